import { useState } from 'react';
import { framePicture, type ProofFrame, type StrandProof } from '../api/client';
import {
  useEstimates,
  useJudge,
  useProofs,
  useRunStrands,
  useStartProof,
  type Wanted,
} from '../api/queries';
import type { StrandView } from '../api/strands';
import { useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { useChooseRun } from '../shell/current';
import { roughly } from '../shell/estimate';
import { duration } from '../shell/format';
import { useTell } from '../shell/Notices';
import { playhead } from '../shell/playhead';
import { strandsText } from './Commands';

const WHY: Record<ProofFrame['why'], string> = {
  FIRST: 'first',
  MIDDLE: 'middle',
  LAST: 'last',
  DEAREST: 'takes longest',
};

export const OUTCOMES: Record<StrandProof['outcome'], string> = {
  NONE: 'no proof',
  RENDERING: 'rendering',
  TO_JUDGE: 'to be judged',
  APPROVED: 'approved',
  REJECTED: 'rejected',
  STALE: 'stale: something changed since',
};

/** A tick, a cross, or an empty ring. */
function Mark({ verdict }: { verdict: 'APPROVED' | 'REJECTED' | null }) {
  return (
    <svg
      width="12"
      height="12"
      aria-hidden="true"
      className={verdict === 'REJECTED' ? 'text-bad' : ''}
    >
      {verdict === 'APPROVED' ? (
        <path d="M1.5 6.5l3 3 6-7" fill="none" stroke="currentColor" strokeWidth="2" />
      ) : verdict === 'REJECTED' ? (
        <path d="M2 2l8 8m0-8l-8 8" fill="none" stroke="currentColor" strokeWidth="2" />
      ) : (
        <circle cx="6" cy="6" r="4.5" fill="none" stroke="currentColor" />
      )}
    </svg>
  );
}

/** The proofs of all strands that are on, to be judged side by side. */
export function ProofSheet({ rows }: { rows: StrandView[][] }) {
  const proofs = useProofs().data;
  const on = rows.flat().filter((v) => v.strand.on);
  const start = useStartProof();
  const tell = useTell();
  const of = (v: StrandView) =>
    proofs?.find((p) => p.shotId === v.shot.id && p.layerId === v.layer.id);
  const open = on.filter((v) => ['NONE', 'STALE'].includes(of(v)?.outcome ?? 'NONE'));
  const render = (some: StrandView[]) =>
    start.mutate(
      some.map((v): Wanted => ({ shotId: v.shot.id, layerId: v.layer.id, frames: null })),
      { onError: (e) => tell(e.message, { bad: true }) },
    );
  return (
    <section aria-label="Proofs" className="min-h-0 overflow-auto bg-well px-5 pb-6">
      <div className="sticky top-0 z-10 flex items-center justify-between gap-4 border-b border-line bg-well py-3">
        <p className="text-t2">
          The first, the middle and the last frame of each strand, and the one that takes longest,
          with the final settings. They count as rendered.
        </p>
        {open.length > 0 && proofs && (
          <Button main disabled={start.isPending} onClick={() => render(open)}>
            Render proofs of {strandsText(open.length)}
          </Button>
        )}
      </div>
      {on.length === 0 && <p className="py-6 text-t2">No strand is on.</p>}
      <ul>
        {on.map((v) => (
          <StrandRow
            key={`${v.shot.id}-${v.layer.id}`}
            strand={v}
            proof={of(v)}
            render={() => render([v])}
          />
        ))}
      </ul>
    </section>
  );
}

function StrandRow({
  strand: v,
  proof,
  render,
}: {
  strand: StrandView;
  proof: StrandProof | undefined;
  render: () => void;
}) {
  const go = useGo();
  const judge = useJudge();
  const tell = useTell();
  const estimate = useEstimates().data?.find(
    (e) => e.shotId === v.shot.id && e.layerId === v.layer.id,
  );
  const outcome = proof?.outcome ?? 'NONE';
  const each = estimate && estimate.rendered > 0 && estimate.seconds.value / estimate.rendered;
  const command = 'min-h-6 underline decoration-t3 underline-offset-3 hover:text-t1';
  const verdict = outcome === 'APPROVED' || outcome === 'REJECTED' ? outcome : null;
  return (
    <li className="border-b border-line py-3.5 [content-visibility:auto] [contain-intrinsic-size:auto_240px]">
      <div className="mb-2 flex items-baseline gap-3">
        <button
          className="font-[640]"
          title="Choose this strand"
          onClick={() => go({ station: 'board', shot: v.shot.name, layer: v.layer.name })}
        >
          {v.shot.name}{' '}
          <span className="font-normal text-t2">
            through {v.shot.camera}, layer {v.layer.name}
          </span>
        </button>
        <span className="flex items-center gap-1.5 text-t2">
          <Mark verdict={verdict} /> {OUTCOMES[outcome]}
        </span>
        <span className="ml-auto flex gap-4 text-t2">
          {(outcome === 'TO_JUDGE' || outcome === 'REJECTED') && (
            <button
              className={command}
              onClick={() =>
                judge.mutate(
                  {
                    shotId: v.shot.id,
                    layerId: v.layer.id,
                    frame: null,
                    verdict: 'APPROVED',
                    note: null,
                  },
                  { onError: (e) => tell(e.message, { bad: true }) },
                )
              }
            >
              Approve all
            </button>
          )}
          {(outcome === 'NONE' || outcome === 'STALE') && (
            <button className={command} onClick={render}>
              Render the proof
              {each ? `, about ${roughly(4 * each)}` : ''}
            </button>
          )}
        </span>
      </div>
      {proof && proof.frames.length > 0 && (
        <ol className="grid grid-cols-4 gap-3">
          {proof.frames.map((f) => (
            <Frame key={f.frame} strand={v} frame={f} />
          ))}
        </ol>
      )}
    </li>
  );
}

function Frame({ strand: v, frame: f }: { strand: StrandView; frame: ProofFrame }) {
  const runs = useRunStrands().data;
  const choose = useChooseRun();
  const judge = useJudge();
  const tell = useTell();
  const [note, setNote] = useState<string>();
  const run = runs?.find((r) => r.id === f.strandId);
  const good = f.standing === 'FRESH' || f.standing === 'KEPT';
  const say = (verdict: ProofFrame['verdict'], words = f.note) =>
    judge.mutate(
      { shotId: v.shot.id, layerId: v.layer.id, frame: f.frame, verdict, note: words },
      { onError: (e) => tell(e.message, { bad: true }) },
    );
  const option = (verdict: 'APPROVED' | 'REJECTED', text: string) => (
    <button
      aria-pressed={f.verdict === verdict}
      aria-label={`${text} frame ${f.frame} of ${v.shot.name}, layer ${v.layer.name}`}
      disabled={!good}
      className={`flex min-h-6 items-center gap-1 disabled:text-t3 ${f.verdict === verdict ? 'font-semibold text-t1' : 'text-t2 hover:text-t1'}`}
      onClick={() => say(f.verdict === verdict ? null : verdict)}
    >
      <Mark verdict={f.verdict === verdict ? verdict : null} />
      {text}
    </button>
  );
  const sayNote = () => {
    if (note !== undefined && note.trim() !== (f.note ?? '')) {
      say(f.verdict, note.trim() || null);
    }
    setNote(undefined);
  };
  return (
    <li className="min-w-0">
      <button
        className="block w-full overflow-hidden bg-bg"
        style={{ aspectRatio: `${v.shot.width} / ${v.shot.height}` }}
        disabled={!run || !f.fingerprint}
        title="Look at it in Review"
        onClick={() => {
          playhead.to(f.frame);
          if (run) {
            choose(run, { station: 'review' });
          }
        }}
      >
        {f.strandId !== null && f.standing !== 'MISSING' ? (
          <img
            loading="lazy"
            src={`${framePicture(f.strandId, f.frame, { most: 640 })}&of=${f.fingerprint?.slice(0, 12)}`}
            alt={`Frame ${f.frame} of ${v.shot.name}, layer ${v.layer.name}`}
            className={`h-full w-full object-contain ${good ? '' : 'opacity-50'}`}
          />
        ) : (
          <span className="grid h-full place-items-center text-t2">not rendered yet</span>
        )}
      </button>
      <p className="flex justify-between gap-2 pt-1 text-xs text-t2">
        <span>
          <span className="fig text-t1">{f.frame}</span> {WHY[f.why]}
          {!good && f.standing !== 'MISSING' && ` · ${f.standing.toLowerCase()}`}
        </span>
        <span className="fig">
          {[
            f.seconds !== null && duration(f.seconds),
            f.noise !== null && `noise ${(100 * f.noise).toFixed(1)} %`,
          ]
            .filter(Boolean)
            .join(' · ')}
        </span>
      </p>
      <div className="flex items-center gap-4 text-xs">
        {option('APPROVED', 'Approve')}
        {option('REJECTED', 'Reject')}
      </div>
      <input
        aria-label={`Note on frame ${f.frame} of ${v.shot.name}, layer ${v.layer.name}`}
        placeholder="Note"
        maxLength={400}
        className="min-h-6 w-full rounded-sm border border-transparent bg-transparent text-xs placeholder:text-t3 hover:border-line focus:border-t2 focus:outline-none"
        value={note ?? f.note ?? ''}
        onChange={(e) => setNote(e.target.value)}
        onBlur={sayNote}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            e.currentTarget.blur();
          } else if (e.key === 'Escape') {
            setNote(undefined);
          }
        }}
      />
    </li>
  );
}
