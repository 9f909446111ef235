import { useState } from 'react';
import type { Corrections, Input, Usual } from '../api/client';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { KeyedNumber } from './KeyedNumber';
import {
  at,
  correcting,
  CORRECTIONS,
  withAt,
  withCorrection,
  type Correction,
  type Num,
  type NumberRow,
} from './stack';

type Put = (part: Partial<Input>, done?: boolean) => void;

/** The corrections of an input, in the order in which they are applied. */
export function CorrectionRows({
  input,
  usual,
  put,
  time,
}: {
  input: Input;
  usual: Usual;
  put: Put;
  time: number;
}) {
  // What was opened stays open when its value comes by what it is usually.
  const [open, setOpen] = useState<string[]>([]);
  const c = input.corrections;
  const on = correcting(c, usual);
  const shown = CORRECTIONS.filter((k) => on.includes(k) || open.includes(k.part));
  const set = (next: Corrections, done = true) => put({ corrections: next }, done);
  return (
    <>
      {shown.map((k) => (
        <section key={k.part} aria-label={k.name} className="border-b border-line py-1.5">
          <header className="flex items-baseline">
            <h3 className="flex-1 text-t2">{k.name}</h3>
            <button
              aria-label={`Take ${k.name} away`}
              className="min-h-6 min-w-6 text-t3 hover:text-t1"
              onClick={() => {
                setOpen(open.filter((p) => p !== k.part));
                set({ ...c, [k.part]: usual.input.corrections[k.part] });
              }}
            >
              ×
            </button>
          </header>
          {k.numbers.map((n) => (
            <Number
              key={n.path}
              row={n}
              of={c}
              set={set}
              time={time}
              alone={k.numbers.length === 1 && k.part !== 'glow'}
            />
          ))}
          <More k={k} c={c} set={set} time={time} usual={usual} />
        </section>
      ))}
      <div className="py-1.5">
        <Choice
          label="Add a correction"
          value=""
          shown="Add a correction"
          options={CORRECTIONS.filter((k) => !shown.includes(k)).map((k) => ({
            value: k.part,
            label: k.name,
          }))}
          onChange={(part) => {
            const k = CORRECTIONS.find((x) => x.part === part)!;
            setOpen([...open, part]);
            set(withCorrection(c, k, usual));
          }}
        />
      </div>
    </>
  );
}

function Number({
  row,
  of,
  set,
  time,
  alone = false,
}: {
  row: NumberRow;
  of: Corrections;
  set: (c: Corrections, done?: boolean) => void;
  time: number;
  /** True where the name of the correction says it all. */
  alone?: boolean;
}) {
  return (
    <div className="flex items-center gap-2">
      {!alone && <span className="w-17 shrink-0 truncate text-xs text-t2">{row.name}</span>}
      <div className="min-w-0 flex-1">
        <KeyedNumber
          label={row.name}
          value={at(of, row.path) as Num}
          least={row.least}
          most={row.most}
          step={row.step}
          unit={row.unit}
          time={time}
          onChange={(v, done) => set(withAt(of, row.path, v), done)}
        />
      </div>
    </div>
  );
}

/** What of a correction is no number with keys. */
function More({
  k,
  c,
  set,
  time,
  usual,
}: {
  k: Correction;
  c: Corrections;
  set: (c: Corrections, done?: boolean) => void;
  time: number;
  usual: Usual;
}) {
  const word = (on: boolean, label: string, press: () => void) => (
    <button
      aria-pressed={on}
      className={`min-h-6 ${on ? 'underline decoration-mark decoration-2 underline-offset-4' : 'text-t2 hover:text-t1'}`}
      onClick={press}
    >
      {label}
    </button>
  );
  if (k.part === 'flip') {
    return (
      <div className="flex gap-4">
        {word(c.flip.across, 'left to right', () =>
          set({ ...c, flip: { ...c.flip, across: !c.flip.across } }),
        )}
        {word(c.flip.down, 'top to bottom', () =>
          set({ ...c, flip: { ...c.flip, down: !c.flip.down } }),
        )}
      </div>
    );
  }
  if (k.part === 'time') {
    return (
      <div className="flex items-baseline gap-4">
        <label className="flex items-baseline gap-2 text-t2">
          Later by
          <Field
            owner="time"
            label="Later by, frames"
            value={String(c.time.shift)}
            part={(v) => globalThis.Number(v)}
            put={(shift) => {
              if (!globalThis.Number.isInteger(shift)) {
                return Promise.resolve('A whole number of frames.');
              }
              set({ ...c, time: { ...c.time, shift } });
              return Promise.resolve(undefined);
            }}
            className="fig w-12 text-t1"
          />
          frames
        </label>
        <Choice
          label="Outside of its frames"
          value={c.time.repeat}
          options={[
            { value: 'nothing', label: 'nothing outside' },
            { value: 'hold', label: 'hold first and last' },
            { value: 'loop', label: 'loop' },
            { value: 'bounce', label: 'forward and back' },
          ]}
          onChange={(repeat) => set({ ...c, time: { ...c.time, repeat } })}
        />
      </div>
    );
  }
  if (k.part !== 'glow') {
    return null;
  }
  const { rings } = c.glow;
  return (
    <>
      {rings.map((_, i) => (
        <div key={i} className="border-t border-line/50">
          <Number
            row={{
              path: `glow.rings.${i}.radius`,
              name: `Radius ${i + 1}`,
              least: 0.5,
              most: 120,
              step: 0.5,
              unit: 'px',
            }}
            of={c}
            set={set}
            time={time}
          />
          <Number
            row={{
              path: `glow.rings.${i}.strength`,
              name: `Strength ${i + 1}`,
              least: 0,
              most: 2,
              step: 0.01,
            }}
            of={c}
            set={set}
            time={time}
          />
        </div>
      ))}
      <div className="flex flex-wrap gap-x-4">
        {rings.length < 8 &&
          word(false, 'Add a radius', () =>
            set({ ...c, glow: { ...c.glow, rings: [...rings, usual.ring] } }),
          )}
        {rings.length > 0 &&
          word(false, 'Take one away', () =>
            set({ ...c, glow: { ...c.glow, rings: rings.slice(0, -1) } }),
          )}
        {word(c.glow.alone, 'glow alone', () =>
          set({ ...c, glow: { ...c.glow, alone: !c.glow.alone } }),
        )}
      </div>
    </>
  );
}
