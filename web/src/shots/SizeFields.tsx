import type { Shot } from '../api/client';
import { Choice } from '../shell/Choice';
import { Row } from '../shell/Row';
import { Field } from '../shell/Field';
import type { Put } from './settings';

const SIZES: [number, number, string][] = [
  [1280, 720, '720 lines'],
  [1920, 1080, '1080 lines'],
  [2048, 858, 'wide 2.39'],
  [1998, 1080, 'flat 1.85'],
  [2560, 1440, '1440 lines'],
  [3840, 2160, '2160 lines'],
  [1080, 1080, 'square'],
  [1080, 1920, 'portrait'],
];

const text = (w: number, h: number) => `${w} × ${h}`;

/** Width and height in pixels, typed or chosen. */
export function SizeFields({ shot, put }: { shot: Shot; put: Put }) {
  const now = text(shot.width, shot.height);
  const options = SIZES.map(([w, h, hint]) => ({ value: text(w, h), label: text(w, h), hint }));
  const usual = options.find((o) => o.value === now);
  return (
    <Row
      name="Size"
      hint={
        <span className="-mr-1 inline-block [&_button]:mx-0">
          <Choice
            label="Sizes"
            value={now}
            shown={usual?.hint ?? 'custom'}
            options={options}
            onChange={(v) => {
              const [width, height] = SIZES.find(([w, h]) => text(w, h) === v)!;
              void put({ width, height });
            }}
          />
        </span>
      }
    >
      <span className="flex items-baseline gap-1">
        <Field
          owner={`shot ${shot.id}`}
          label="Width in px"
          value={String(shot.width)}
          part={(v) => ({ width: Number(v) })}
          put={put}
          className="fig w-12"
        />
        <span className="text-t3">×</span>
        <Field
          owner={`shot ${shot.id}`}
          label="Height in px"
          value={String(shot.height)}
          part={(v) => ({ height: Number(v) })}
          put={put}
          className="fig w-12"
        />
      </span>
    </Row>
  );
}
