import { useState } from 'react';
import type { FilmOutput, Stack } from '../api/client';
import { useStartFilm, type StackDefinition } from '../api/assembly';
import { useProduction } from '../api/queries';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { rateText } from '../shell/format';
import { useTell } from '../shell/Notices';
import { Row } from '../shell/Row';
import { useSay } from '../shell/useSay';
import { frameCount, stepOf } from './range';
import { Handover } from './Handover';

type Kind = FilmOutput['kind'];

export const KINDS: Record<Kind, { name: string; note: string }> = {
  mp4: { name: 'H.264 MP4', note: 'a film that plays anywhere' },
  mov: { name: 'ProRes MOV', note: 'a film for editing, 10 bits' },
  exr: { name: 'EXR sequence', note: 'scene-linear half floats with alpha' },
  png: { name: 'PNG sequence', note: 'as it is shown, 16 bits' },
  tiff: { name: 'TIFF sequence', note: 'as it is shown, 16 bits' },
  jpeg: { name: 'JPEG sequence', note: 'as it is shown, 8 bits' },
  loop: { name: 'loop', note: 'an animated PNG that plays without end' },
  still: { name: 'still', note: 'the first frame as a PNG' },
};

const made = (side: number, o: FilmOutput) => {
  const scaled = (side * o.scale) / 100;
  return o.kind === 'mp4' || o.kind === 'mov' || o.kind === 'loop'
    ? 2 * Math.floor((scaled + 0.5) / 2)
    : Math.max(1, Math.round(scaled));
};

/** What would be made, in a few words. */
export const outputText = (s: Stack, o: FilmOutput) =>
  [
    KINDS[o.kind].name,
    `${made(s.width, o)} × ${made(s.height, o)}`,
    rateText(s.rate / o.step / stepOf(s.frames)),
    `${o.kind === 'still' ? 1 : Math.ceil(frameCount(s.frames) / o.step)} frames`,
  ].join(', ');

/** What is made of the stack. */
export function FilmActions({
  of,
  stack,
  output,
  onOpen,
}: {
  of: StackDefinition;
  stack: Stack;
  output: FilmOutput;
  /** Shows what can be said about the film. */
  onOpen?: () => void;
}) {
  const start = useStartFilm();
  const production = useProduction().data?.id;
  const say = useSay();
  const tell = useTell();
  const [handing, setHanding] = useState(false);
  const render = () =>
    void say(
      start
        .mutateAsync({
          productionId: production!,
          name: of.name,
          width: 0,
          height: 0,
          segments: [{ title: of.name, stackId: of.id, footage: null, frames: null }],
          output,
        })
        .then((f) => {
          tell(`Film ${f.name} v${String(f.version).padStart(3, '0')} is being made.`);
          onOpen?.();
        }),
      'film',
    );
  return (
    <>
      <p className="w-full text-xs text-t2">
        {outputText(stack, output)}
        {onOpen && (
          <>
            {' '}
            <button className="min-h-6 text-t1 underline underline-offset-3" onClick={onOpen}>
              Change
            </button>
          </>
        )}
      </p>
      <Button main onClick={render} disabled={stack.inputs.length === 0 || start.isPending}>
        {output.kind === 'mp4' || output.kind === 'mov' || output.kind === 'loop'
          ? 'Render the film'
          : output.kind === 'still'
            ? 'Render the still'
            : 'Render the sequence'}
      </Button>
      <Button onClick={() => setHanding(true)}>Hand over …</Button>
      {handing && <Handover onClose={() => setHanding(false)} />}
    </>
  );
}

const BURN_INS = ['frame', 'timecode', 'shot', 'date'] as const;

/** How the film is made. */
export function OutputRows({
  output,
  onOutput,
}: {
  output: FilmOutput;
  onOutput: (o: FilmOutput) => void;
}) {
  const put = (part: Partial<FilmOutput>) => {
    onOutput({ ...output, ...part });
    return Promise.resolve(undefined);
  };
  const whole = (label: string, key: 'scale' | 'step' | 'quality', least: number, most: number) => (
    <Field
      owner="film"
      label={label}
      value={String(output[key])}
      part={(v) => Number(v)}
      put={(v) =>
        Number.isInteger(v) && v >= least && v <= most
          ? put({ [key]: v })
          : Promise.resolve(`${label} must be ${least} .. ${most} (got ${v})`)
      }
      className="fig w-14"
    />
  );
  const shown = output.kind !== 'exr';
  const hasSound = output.kind === 'mp4' || output.kind === 'mov';
  return (
    <>
      <h2 className="mt-5 mb-1 font-semibold">Film</h2>
      <Row name="Format" note={KINDS[output.kind].note}>
        <Choice
          label="Format"
          value={output.kind}
          options={(Object.keys(KINDS) as Kind[]).map((k) => ({ value: k, label: KINDS[k].name }))}
          onChange={(kind) =>
            void put({ kind, ...(kind === 'mp4' || kind === 'mov' ? {} : { sound: null }) })
          }
        />
      </Row>
      <Row name="Scale" hint="%">
        {whole('Scale of the film', 'scale', 1, 400)}
      </Row>
      <Row name="Step" hint="every Nth frame">
        {whole('Step of the film', 'step', 1, 1000)}
      </Row>
      {(output.kind === 'mp4' || output.kind === 'jpeg') && (
        <Row name="Quality" hint="1 – 100">
          {whole('Quality of the film', 'quality', 1, 100)}
        </Row>
      )}
      {shown && (
        <>
          <Row name="View">
            <Choice
              label="View of the film"
              value={output.view}
              options={[
                { value: 'STANDARD', label: 'standard' },
                { value: 'SOFT', label: 'soft' },
                { value: 'LINEAR', label: 'linear' },
              ]}
              onChange={(view) => void put({ view })}
            />
          </Row>
          <Row name="Exposure" hint="stops">
            <Field
              owner="film"
              label="Exposure of the film"
              value={String(output.stops)}
              part={(v) => Number(v)}
              put={(stops) =>
                Math.abs(stops) <= 10
                  ? put({ stops })
                  : Promise.resolve('Exposure must be -10 .. 10 stops.')
              }
              className="fig w-14"
            />
          </Row>
          <Row name="Burn-ins">
            <span className="flex flex-wrap gap-x-3">
              {BURN_INS.map((b) => (
                <button
                  key={b}
                  aria-pressed={output.burnIns.includes(b)}
                  className={`min-h-6 ${output.burnIns.includes(b) ? 'underline decoration-mark decoration-2 underline-offset-4' : 'text-t2 hover:text-t1'}`}
                  onClick={() =>
                    void put({
                      burnIns: output.burnIns.includes(b)
                        ? output.burnIns.filter((o) => o !== b)
                        : [...output.burnIns, b],
                    })
                  }
                >
                  {b}
                </button>
              ))}
            </span>
          </Row>
        </>
      )}
      {hasSound && (
        <Row name="Sound" note="A WAV file on the server’s machine; it begins with the film.">
          <Field
            owner="film"
            label="Path of the sound"
            value={output.sound ?? 'none'}
            part={(v) => (v === 'none' ? null : v)}
            put={(sound) => put({ sound })}
            className="w-full"
          />
        </Row>
      )}
    </>
  );
}
