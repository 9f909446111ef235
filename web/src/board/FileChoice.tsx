import { useState } from 'react';
import type { Delivery, FormatName } from '../api/client';
import { useFormats, usePaths } from '../api/queries';
import type { StrandView } from '../api/strands';
import { Choice, type Option } from '../shell/Choice';
import { Field, type Put } from '../shell/Field';
import { EXTRAS } from '../shell/format';
import { Several } from '../shell/Several';
import { Row } from '../shell/Row';

type Other = FormatName | 'none';
type Grouping = 'one' | 'two' | 'apart' | 'none';

const DEPTHS: Option<Delivery['depth']>[] = [
  { value: 'as-needed', label: 'as needed', hint: 'half, float for data' },
  { value: 'half', label: 'half', hint: '16 bits' },
  { value: 'float', label: 'float', hint: '32 bits' },
];

const ENCODINGS: Option<Delivery['color']['encoding']>[] = [
  { value: 'by-format', label: 'as the format has it', hint: 'EXR linear, others to look at' },
  { value: 'scene-linear', label: 'scene-linear' },
  { value: 'display', label: 'through the view transform' },
];

const PRIMARIES: Option<Delivery['color']['primaries']>[] = [
  { value: 'rec709', label: 'Rec. 709' },
  { value: 'acescg', label: 'ACEScg', hint: 'files to look at stay Rec. 709' },
  { value: 'display-p3', label: 'Display P3' },
];

type Alpha = 'kept' | 'filled' | 'out';
const BLACK = [0, 0, 0];

/** A plan may fill with another colour, which stays until something else is chosen. */
const alphas = ({ fill }: Delivery): Option<Alpha>[] => [
  { value: 'kept', label: 'kept' },
  {
    value: 'filled',
    label:
      !fill || fill.every((v) => v === 0) ? 'filled with black' : `filled with ${fill.join(' ')}`,
    hint: 'in files to look at',
  },
  { value: 'out', label: 'left out' },
];

const alphaOf = (d: Delivery): Alpha => (!d.alpha ? 'out' : d.fill ? 'filled' : 'kept');

/** Which files frames are written into, how, and what is made of them. */
export function FileChoice({
  owner,
  strand,
  put,
}: {
  owner: string;
  strand: StrandView;
  put: Put<Partial<Delivery>>;
}) {
  const { delivery } = strand.settings;
  const known = useFormats().data;
  const exr = delivery.formats.includes('exr');
  const other: Other = delivery.formats.find((f) => f !== 'exr') ?? 'none';
  const formats = (linear: boolean, also: Other): FormatName[] => [
    ...(linear ? (['exr'] as const) : []),
    ...(also === 'none' ? [] : [also]),
  ];
  const grouping: Grouping = !exr
    ? 'none'
    : delivery.perPass
      ? 'apart'
      : delivery.dataApart
        ? 'two'
        : 'one';
  const color = (part: Partial<Delivery['color']>) => ({ color: { ...delivery.color, ...part } });
  return (
    <>
      <Row name="EXR">
        <Choice
          label="EXR files"
          value={grouping}
          options={[
            { value: 'one', label: 'one for all passes' },
            { value: 'two', label: 'one for light, one for data' },
            { value: 'apart', label: 'one for each pass' },
            ...(other === 'none' ? [] : [{ value: 'none' as const, label: 'no EXR' }]),
          ]}
          onChange={(v) =>
            void put({
              perPass: v === 'none' ? delivery.perPass : v === 'apart',
              dataApart: v === 'none' ? delivery.dataApart : v === 'two',
              formats: formats(v !== 'none', other),
            })
          }
        />
      </Row>
      {exr && (
        <>
          <Row name="Bit depth">
            <Choice
              label="EXR bit depth"
              value={delivery.depth}
              options={DEPTHS}
              onChange={(depth) => void put({ depth })}
            />
          </Row>
          <Row name="Packing" hint="without loss">
            <Choice
              label="EXR compression"
              value={delivery.compression}
              options={(known?.compressions ?? []).map((c) => ({ value: c, label: c }))}
              onChange={(compression) => void put({ compression })}
            />
          </Row>
        </>
      )}
      <Row name={exr ? 'Also write' : 'Files'} hint={exr ? 'the beauty' : 'one for each pass'}>
        <Choice
          label="Other files"
          value={other}
          options={[
            ...(known?.formats ?? [])
              .filter((f) => f.name !== 'exr')
              .map((f) => ({ value: f.name, label: f.name, hint: f.holds })),
            ...(exr ? [{ value: 'none' as const, label: 'nothing' }] : []),
          ]}
          onChange={(v) => void put({ formats: formats(exr, v) })}
        />
      </Row>
      {(other === 'jpeg' || delivery.extras.includes('film')) && (
        <Row name="Quality" hint="1-100">
          <Field
            owner={owner}
            label="Quality of JPEG and film"
            value={String(delivery.quality)}
            part={(v) => ({ quality: Number(v) })}
            put={put}
            className="fig w-12"
          />
        </Row>
      )}
      <Row name="Colour">
        <Choice
          label="Colour of files"
          value={delivery.color.encoding}
          options={ENCODINGS}
          onChange={(encoding) => void put(color({ encoding }))}
        />
      </Row>
      <Row name="Primaries">
        <Choice
          label="Primaries"
          value={delivery.color.primaries}
          options={PRIMARIES}
          onChange={(primaries) => void put(color({ primaries }))}
        />
      </Row>
      <Row name="Exposure" note="stops, in files to look at">
        <Field
          owner={owner}
          label="Exposure of files to look at"
          value={String(delivery.color.exposure)}
          part={(v) => color({ exposure: Number(v) })}
          put={put}
          className="fig w-12"
        />
      </Row>
      <Row name="Alpha">
        <Choice
          label="Alpha"
          value={alphaOf(delivery)}
          options={alphas(delivery)}
          onChange={(v) =>
            void put({ alpha: v !== 'out', fill: v === 'filled' ? (delivery.fill ?? BLACK) : null })
          }
        />
      </Row>
      <Names owner={owner} strand={strand} put={put} />
      <Padding pattern={delivery.pattern} put={put} />
      <Row name="Then make" note="when all frames are there">
        <Several
          label="Made of the frames"
          chosen={delivery.extras}
          options={Object.entries(EXTRAS).map(([value, label]) => ({
            value: value as Delivery['extras'][number],
            label: value === 'film' ? `${label} (H.264 in MP4)` : label,
          }))}
          none="nothing"
          onChange={(extras) => void put({ extras })}
        />
      </Row>
    </>
  );
}

const FRAME = /\{frame(?::(\d+))?\}/;

/** How many digits frame numbers have in names. */
function Padding({ pattern, put }: { pattern: string; put: Put<Partial<Delivery>> }) {
  const found = FRAME.exec(pattern);
  if (!found) {
    return null;
  }
  const digits = Number(found[1] ?? 1);
  return (
    <Row name="Padding">
      <Choice
        label="Padding"
        value={digits}
        options={[...new Set([1, 3, 4, 5, 6, digits])]
          .sort((a, b) => a - b)
          .map((n) => ({
            value: n,
            label: n === 1 ? 'none' : `${n} digits`,
            hint: '7'.padStart(n, '0'),
          }))}
        onChange={(n) =>
          void put({ pattern: pattern.replace(FRAME, n === 1 ? '{frame}' : `{frame:${n}}`) })
        }
      />
    </Row>
  );
}

/** How files are named, with what that gives for this strand while it is typed. */
function Names({
  owner,
  strand,
  put,
}: {
  owner: string;
  strand: StrandView;
  put: Put<Partial<Delivery>>;
}) {
  const { delivery } = strand.settings;
  const [typed, setTyped] = useState<string>();
  const pattern = typed?.trim() || delivery.pattern;
  const paths = usePaths(strand.shot.id, strand.layer.id, { ...delivery, pattern });
  return (
    <Row
      name="Names"
      note={
        paths &&
        (paths.refusal ? (
          <span className="text-bad">{paths.refusal}</span>
        ) : (
          <span className="fig block break-all" title={paths.folder} data-testid="paths">
            {paths.first[0]}
            {paths.first.length > 1 && ` and ${paths.first.length - 1} more`}
            <br />… {paths.last.at(delivery.extras.length ? -1 - delivery.extras.length : -1)}
          </span>
        ))
      }
    >
      <span onInput={(e) => setTyped((e.target as HTMLInputElement).value)}>
        <Field
          owner={owner}
          label="Name pattern"
          value={delivery.pattern}
          part={(v) => ({ pattern: v })}
          put={async (part, about) => {
            const why = await put(part, about);
            setTyped(undefined);
            return why;
          }}
          className="fig w-full"
        />
      </span>
    </Row>
  );
}
