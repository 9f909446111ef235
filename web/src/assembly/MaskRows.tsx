import type { Input, Mask } from '../api/client';
import { namesAt, useOffered } from '../api/assembly';
import { Choice } from '../shell/Choice';
import { useTell } from '../shell/Notices';
import { Row } from '../shell/Row';
import { KeyedNumber } from './KeyedNumber';
import type { Picking } from './StackView';

type Kind = Mask['kind'];

const KINDS: { value: Kind; label: string }[] = [
  { value: 'none', label: 'everywhere' },
  { value: 'matte', label: 'objects' },
  { value: 'pass', label: 'a pass' },
  { value: 'alpha', label: 'alpha' },
  { value: 'rectangle', label: 'rectangle' },
  { value: 'ellipse', label: 'ellipse' },
  { value: 'polygon', label: 'polygon' },
];

const MIDDLE = [
  [0.25, 0.25],
  [0.75, 0.75],
];

const TRIANGLE = [
  [0.5, 0.2],
  [0.8, 0.8],
  [0.2, 0.8],
];

/** Where an input acts. */
export function MaskRows({
  input,
  put,
  time,
  frame,
  picking,
  onPick,
}: {
  input: Input;
  put: (part: Partial<Input>, done?: boolean) => void;
  time: number;
  frame: number;
  picking: Picking | undefined;
  onPick: (p: Picking | undefined) => void;
}) {
  const offered = useOffered();
  const tell = useTell();
  const { mask } = input;
  const set = (part: Partial<Mask>, done = true) => put({ mask: { ...mask, ...part } }, done);
  const footage = mask.footage ?? input.source.footage;
  const of = offered?.find((o) => o.footage === footage);
  const passes = of?.passes ?? [];
  const mattes = passes.filter((p) => p.startsWith('matte-'));
  const kind = (to: Kind) => {
    onPick(undefined);
    const shape = to === 'rectangle' || to === 'ellipse';
    set({
      kind: to,
      points: shape ? MIDDLE : to === 'polygon' ? TRIANGLE : [],
      soft: mask.soft === 0 ? 20 : mask.soft,
      pass:
        to === 'matte'
          ? (mattes[0] ?? 'matte-objects')
          : to === 'pass'
            ? (passes.find((p) => p === 'depth') ?? 'depth')
            : 'beauty',
      ...(to === 'pass' ? { from: 1, to: 100 } : {}),
    });
  };
  const pick = () => {
    if (picking) {
      onPick(undefined);
      return;
    }
    if (mask.kind === 'matte') {
      let names = mask.names;
      onPick({
        kind: 'object',
        take: (x, y) => {
          namesAt(footage!, mask.pass, frame, x, y).then(
            (there) => {
              const name = there[0];
              if (!name) {
                tell('Nothing that the ID matte knows is there.');
                return;
              }
              names = names.includes(name) ? names.filter((n) => n !== name) : [...names, name];
              set({ names });
            },
            (e: Error) => tell(e.message, { bad: true, about: 'mask' }),
          );
        },
      });
    } else if (mask.kind === 'polygon') {
      onPick({ kind: 'polygon', take: (points) => set({ points }) });
    } else {
      onPick({ kind: 'rectangle', take: (points) => set({ points }) });
    }
  };
  const drawn = mask.kind === 'rectangle' || mask.kind === 'ellipse' || mask.kind === 'polygon';
  const number = (
    label: string,
    value: Mask['from'],
    key: 'from' | 'to' | 'soft',
    most: number,
    unit = '',
  ) => (
    <KeyedNumber
      label={label}
      value={value}
      least={0}
      most={most}
      step={most > 2 ? 0.5 : 0.01}
      unit={unit}
      time={time}
      onChange={(v, done) => set({ [key]: v }, done)}
    />
  );
  const most = mask.pass.startsWith('depth') ? 200 : 1;
  return (
    <>
      <Row
        name="Mask"
        hint={
          mask.kind !== 'none' && (
            <button
              aria-pressed={mask.invert}
              className={`min-h-6 ${mask.invert ? 'text-t1 underline decoration-mark decoration-2 underline-offset-2' : 'hover:text-t1'}`}
              onClick={() => set({ invert: !mask.invert })}
            >
              all but that
            </button>
          )
        }
      >
        <Choice label="Mask" value={mask.kind} options={KINDS} onChange={kind} />
      </Row>
      {(mask.kind === 'matte' || mask.kind === 'pass' || mask.kind === 'alpha') && (
        <Row name="Mask from">
          <span className="flex gap-3">
            <Choice
              label="Mask from"
              value={mask.footage ?? ''}
              shown={mask.footage ? (of ? of.layer : mask.footage) : 'this input'}
              options={[
                { value: '', label: 'this input' },
                ...(offered ?? []).map((o) => ({
                  value: o.footage,
                  label: `${o.shot} · ${o.layer}`,
                })),
              ]}
              onChange={(v) => set({ footage: v || null })}
            />
            <Choice
              label="Pass of the mask"
              value={mask.pass}
              options={(mask.kind === 'matte' ? mattes : passes).map((p) => ({
                value: p,
                label: p,
              }))}
              onChange={(pass) => set({ pass })}
            />
          </span>
        </Row>
      )}
      {mask.kind === 'matte' && (
        <Row
          name="Objects"
          note={
            mattes.length === 0
              ? 'It has no ID matte; add one to the layer’s passes.'
              : picking
                ? 'Press objects in the picture; Escape ends it.'
                : undefined
          }
          hint={<PickButton on={!!picking} label="Pick" onClick={pick} />}
        >
          {mask.names.length === 0 ? (
            <span className="text-t3">none yet</span>
          ) : (
            mask.names.map((n) => (
              <button
                key={n}
                className="mr-2 min-h-6 hover:line-through"
                title="Take it out"
                onClick={() => set({ names: mask.names.filter((o) => o !== n) })}
              >
                {n}
              </button>
            ))
          )}
        </Row>
      )}
      {mask.kind === 'pass' && (
        <>
          <Row name="0 from">{number('Mask is 0 from', mask.from, 'from', most)}</Row>
          <Row name="1 at">{number('Mask is 1 at', mask.to, 'to', most)}</Row>
        </>
      )}
      {drawn && (
        <Row
          name="Soft edge"
          note={
            picking
              ? mask.kind === 'polygon'
                ? 'Press its corners, then Enter.'
                : 'Draw it on the picture.'
              : undefined
          }
          hint={<PickButton on={!!picking} label="Draw" onClick={pick} />}
        >
          {number('Soft edge', mask.soft, 'soft', 200, 'px')}
        </Row>
      )}
    </>
  );
}

function PickButton({ on, label, onClick }: { on: boolean; label: string; onClick: () => void }) {
  return (
    <button
      aria-pressed={on}
      className={`min-h-6 ${on ? 'text-mark' : 'text-t2 hover:text-t1'}`}
      onClick={onClick}
    >
      {on ? 'Done' : label}
    </button>
  );
}
