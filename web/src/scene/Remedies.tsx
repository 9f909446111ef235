import { useState } from 'react';
import { addPicture, pickFile, type Revision, type SceneReading } from '../api/client';
import { again, useProduction } from '../api/queries';
import { useChangeReading } from '../api/revisions';
import { Choice } from '../shell/Choice';
import { clipFrames, span } from '../shell/format';
import { useNotices } from '../shell/Notices';
import { Row } from '../shell/Row';
import { useUndo } from '../shell/undo';

const UNITS = [
  { value: 1, label: 'metres' },
  { value: 0.01, label: 'centimetres' },
  { value: 0.001, label: 'millimetres' },
  { value: 0.0254, label: 'inches' },
  { value: 0.3048, label: 'feet' },
];

const PICTURES = '.png,.jpg,.jpeg,.webp';

/** Changes how the file is read, and says so with a way back. */
export function useRead(revision: Revision) {
  const change = useChangeReading();
  // Kept here, so that a box that is pressed does not jump back before the question is on its way.
  const [wanted, setWanted] = useState<{ id: number; reading: SceneReading }>();
  const { tell } = useNotices();
  const undo = useUndo();
  const said = (what: string) =>
    tell(what, { about: 'reading', action: { label: 'Undo', run: () => undo('undo') } });
  const refused = (e: unknown) => tell((e as Error).message, { bad: true, about: 'reading' });
  const busy = wanted?.id === revision.id;
  const reading = busy ? wanted.reading : revision.report.reading;
  return {
    busy,
    /** What is wanted, already while the file is read again. */
    reading,
    put: (part: Partial<SceneReading>, what: string) => {
      const next = { id: revision.id, reading: { ...reading, ...part } };
      setWanted(next);
      void change
        .mutateAsync(next)
        .then(() => said(what), refused)
        .finally(() => setWanted((w) => (w === next ? undefined : w)));
    },
    add: (file: File, instead: string) =>
      void addPicture(revision.id, file, instead)
        .then(() => again('revisions'))
        .then(() => said(`${file.name} stands in for ${instead}.`), refused),
  };
}

type Read = ReturnType<typeof useRead>;

/** The unit that the file is in, and which of its axes points up. */
export function SizeRows({ read: { put, busy, reading } }: { read: Read }) {
  const { scale, up } = reading;
  const units = UNITS.some((u) => u.value === scale)
    ? UNITS
    : [{ value: scale, label: `${scale} m` }, ...UNITS];
  return (
    <>
      <Row name="Unit" hint={busy ? 'reading …' : 'of the file'}>
        <Choice
          label="Unit of the file"
          value={scale}
          options={units}
          onChange={(v) =>
            put({ scale: v }, `The file is read in ${units.find((u) => u.value === v)!.label}.`)
          }
        />
      </Row>
      <Row name="Up" hint="of the file">
        <Choice
          label="Up in the file"
          value={up}
          options={['x', 'y', 'z'].map((a) => ({ value: a, label: `its ${a} axis` }))}
          onChange={(v) => put({ up: v }, `The file’s ${v} axis points up.`)}
        />
      </Row>
    </>
  );
}

/** The file's animations, and which of them play. */
export function Clips({
  animations,
  read: { put, busy, reading },
}: {
  animations: Revision['report']['animations'];
  read: Read;
}) {
  const rate = useProduction().data?.frameRate ?? 24;
  if (animations.length === 0) {
    return <p className="text-t2">Static: nothing is animated in this scene.</p>;
  }
  return (
    <ul>
      {animations.map((a) => {
        const plays = !reading.without.includes(a.name);
        return (
          <li key={a.name} className="border-b border-line">
            <label className="flex min-h-7 items-center gap-2.5">
              <input
                type="checkbox"
                className="accent-[var(--mark)]"
                aria-label={`${a.name} plays`}
                checked={plays}
                disabled={busy}
                onChange={() =>
                  put(
                    {
                      without: plays
                        ? [...reading.without, a.name]
                        : reading.without.filter((n) => n !== a.name),
                    },
                    `${a.name} ${plays ? 'does not play' : 'plays'}.`,
                  )
                }
              />
              <span className={`min-w-0 flex-1 truncate ${plays ? '' : 'text-t3'}`}>{a.name}</span>
              <span className="fig text-right text-t2">
                {plays
                  ? `${(a.end - a.start).toFixed(2)} s · ${span(clipFrames([a], rate)!)}`
                  : 'off'}
              </span>
            </label>
          </li>
        );
      })}
    </ul>
  );
}

/** Files that are missing, each with a way to give another; and those that stand in for some. */
export function MissingFiles({
  missing,
  read: { put, add, reading },
}: {
  missing: string[];
  read: Read;
}) {
  const instead = Object.entries(reading.files);
  if (missing.length + instead.length === 0) {
    return null;
  }
  return (
    <>
      <h2 className="mt-4 mb-1 font-[640]">
        Missing files <span className="fig text-t2">{missing.length}</span>
      </h2>
      <ul>
        {missing.map((name) => (
          <li key={name} className="flex items-baseline gap-2.5 border-b border-line py-1">
            <svg width="14" height="14" className="shrink-0 self-center" aria-hidden="true">
              <path
                d="M1 1h12v12H1zM3.5 3.5l7 7m0-7l-7 7"
                fill="none"
                stroke="var(--bad)"
                strokeWidth="1.5"
              />
            </svg>
            <span className="min-w-0 flex-1 break-words">{name}</span>
            <button
              className="min-h-6 shrink-0 underline underline-offset-3"
              onClick={() => pickFile(PICTURES, (file) => add(file, name))}
            >
              pick
            </button>
          </li>
        ))}
        {instead.map(([name, file]) => (
          <li key={name} className="flex items-baseline gap-2.5 border-b border-line py-1">
            <span className="min-w-0 flex-1 break-words">
              {name}
              <span className="block truncate text-xs text-t3" title={file}>
                {file.replace(/^added\/[0-9a-f]{12}-/, '')} stands in
              </span>
            </span>
            <button
              className="min-h-6 shrink-0 underline underline-offset-3"
              onClick={() =>
                put(
                  { files: Object.fromEntries(instead.filter(([n]) => n !== name)) },
                  `Nothing stands in for ${name}.`,
                )
              }
            >
              take out
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
