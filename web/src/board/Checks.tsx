import type { Finding } from '../api/client';
import { shotNow, useChangeShot, useChecks, useStartProof } from '../api/queries';
import { useChangeView, type StrandView } from '../api/strands';
import { useGo } from '../shell/address';
import { Sign } from '../shell/FindingText';
import { useTell } from '../shell/Notices';
import { Panel } from '../shell/Panel';
import { Commands } from './Commands';
import { Deadline } from './Deadline';

/** What is wrong with the strands that are on, with the way out where there is one. */
export function Checks({ strand, rows }: { strand: StrandView; rows: StrandView[][] }) {
  const found = useChecks().data;
  return (
    <Panel label="Before it starts" actions={<Commands strand={strand} rows={rows} />}>
      <Deadline />
      <p className="border-b border-line py-2.5 text-t2">
        {found ? foundText(found.findings) : 'being checked …'}
        {found && found.pending > 0 && ` · ${found.pending} strands are still being looked at`}
      </p>
      <ul aria-label="Findings">
        {found?.findings.map((f) => (
          <Entry key={keyOf(f)} finding={f} strand={strand} rows={rows} />
        ))}
      </ul>
    </Panel>
  );
}

const keyOf = (f: Finding) => `${f.rule} ${f.shot} ${f.layer} ${f.text}`;

const counted = (n: number, what: string) => n > 0 && `${n} ${what}${n === 1 ? '' : 's'}`;

function foundText(all: Finding[]): string {
  const of = (s: Finding['severity']) => all.filter((f) => f.severity === s).length;
  return (
    [counted(of('ERROR'), 'error'), counted(of('WARNING'), 'warning'), counted(of('NOTE'), 'note')]
      .filter(Boolean)
      .join(', ') || 'Nothing is wrong that could be found.'
  );
}

function Entry({
  finding,
  strand,
  rows,
}: {
  finding: Finding;
  strand: StrandView;
  rows: StrandView[][];
}) {
  const go = useGo();
  const { shot, layer } = finding;
  const of = rows.flat().find((v) => v.shot.name === shot && (!layer || v.layer.name === layer));
  return (
    <li className="flex gap-2.5 border-b border-line py-2.5">
      <Sign severity={finding.severity} />
      <div className="min-w-0">
        {shot && (
          <button
            className="fig block max-w-full truncate text-left text-t2 hover:text-t1"
            title="Choose this strand"
            onClick={() => go({ station: 'board', shot, layer: layer ?? undefined })}
          >
            {shot} {layer && `· ${layer}`}
          </button>
        )}
        <p className="leading-4.5">{finding.text}</p>
        {finding.remedy && (of ?? !shot) && (
          <Mend finding={finding} strand={of ?? strand} all={rows.flat()} />
        )}
      </div>
    </li>
  );
}

/** The way out of a finding, in one press. */
function Mend({
  finding: { remedy, rule },
  strand,
  all,
}: {
  finding: Finding;
  strand: StrandView;
  all: StrandView[];
}) {
  const changeShot = useChangeShot();
  const change = useChangeView(strand);
  const proof = useStartProof();
  const go = useGo();
  const tell = useTell();
  const { delivery, recipe } = strand.settings;
  const value = remedy?.value ?? '';
  // A picture that was rejected comes out the same again.
  const again = rule === 'CAMERA_NOT_PROOFED';
  const putShot = async (part: { frames: string } | { camera: string }) => {
    if (shotNow(strand.shot.id)) {
      await changeShot.mutateAsync({ id: strand.shot.id, part });
    }
  };
  const shared = (kind: 'recipe' | 'delivery') => {
    const n = all.filter((v) => v.strand.on && v[kind].id === strand[kind].id).length;
    return n > 1 ? `, for ${n} strands` : '';
  };
  const ways: Record<NonNullable<Finding['remedy']>['kind'], [string, () => Promise<unknown>]> = {
    FRAMES: [`Take frames ${value}`, () => putShot({ frames: value })],
    CAMERA: [`Take camera ${value}`, () => putShot({ camera: value })],
    PATTERN: [`Name them ${value}${shared('delivery')}`, () => change.delivery({ pattern: value })],
    SAMPLES: [
      `Take ${value} samples${shared('recipe')}`,
      () => change.recipe({ sampling: { ...recipe.sampling, most: Number(value) } }),
    ],
    ADD_EXR: [
      `Write EXR too${shared('delivery')}`,
      () => change.delivery({ formats: ['exr', ...delivery.formats] }),
    ],
    SCENE_LINEAR: [
      `Write EXR scene-linear${shared('delivery')}`,
      () => change.delivery({ color: { ...delivery.color, encoding: 'by-format' } }),
    ],
    NO_BAKED_LIGHT: [
      `Render without baked light${shared('recipe')}`,
      () => change.recipe({ irradiance: { ...recipe.irradiance, use: false } }),
    ],
    PROOF: [
      again ? 'Render the proof again' : 'Go to the proofs',
      async () => {
        if (again) {
          const { id } = strand.shot;
          await proof.mutateAsync([{ shotId: id, layerId: strand.layer.id, frames: null }]);
        }
        go({ station: 'board', view: 'proofs' });
      },
    ],
    FIT: ['Fit the deadline', () => Promise.resolve(go({ station: 'board', view: 'whatif' }))],
  };
  if (!remedy) {
    return null;
  }
  const [text, mend] = ways[remedy.kind];
  return (
    <button
      className="min-h-6 text-left break-all underline decoration-t3 underline-offset-3 hover:text-t1"
      onClick={() => void mend().catch((e: Error) => tell(e.message, { bad: true }))}
    >
      {text}
    </button>
  );
}
