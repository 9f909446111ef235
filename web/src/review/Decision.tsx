import { useState } from 'react';
import { useRunStrands } from '../api/queries';
import { useApprovals, useChangedFrames, useDecide } from '../api/review';
import { Button } from '../shell/Button';
import { framesText, version } from '../shell/format';
import { useTell } from '../shell/Notices';
import { ended, type Source } from './source';
import { useWho } from './who';

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });

/** Whether this version is approved, by whom; and what is new in it. */
export function Decision({
  source,
  main,
  only,
  onOnly,
}: {
  source: Source;
  /** True if to approve is the main thing to do here. */
  main: boolean;
  /** Frames that alone are shown; undefined for all. */
  only: number[] | undefined;
  onOnly: (frames: number[] | undefined) => void;
}) {
  const run = source.run!;
  const runs = useRunStrands().data ?? [];
  const all = useApprovals();
  const changes = useChangedFrames(ended(run) ? run.id : undefined, String(run.fresh));
  const decide = useDecide();
  const tell = useTell();
  const [who, setWho] = useWho();
  const [asked, setAsked] = useState<boolean>();
  const [note, setNote] = useState('');
  const [shot, setShot] = useState(false);
  const own = all?.find((a) => a.strandId === run.id);
  // The newest finished version of each other layer of the shot.
  const others = [
    ...new Map(
      runs
        .filter(
          (r) =>
            r.shotId === run.shotId &&
            r.layerId !== run.layerId &&
            r.kind !== 'PROOF' &&
            r.fresh > 0 &&
            ended(r),
        )
        .toReversed()
        .map((r) => [r.layerId, r.id]),
    ).values(),
  ];
  const layerNewest = runs.find((r) => r.shotId === run.shotId && r.layerId === run.layerId)?.id;
  const save = () =>
    decide.mutate(
      { strands: shot ? [run.id, ...others] : [run.id], approved: asked!, who, note },
      {
        onSuccess: () => {
          setAsked(undefined);
          setNote('');
        },
        onError: (e) => tell(e.message, { bad: true }),
      },
    );
  const field = 'w-full border-b border-t3 bg-transparent py-1 focus:border-t1 focus:outline-none';
  return (
    <section aria-label="Approval" className="w-full">
      <p className="mb-2 text-t2" data-testid="decision">
        {own ? (
          <>
            <b className="text-t1">{own.approved ? '✓ Approved' : '✗ Turned down'}</b> by {own.who},{' '}
            {DAY.format(new Date(own.saidAt))}
            {own.note && `: ${own.note}`}
          </>
        ) : changes && changes.since > 0 ? (
          <>
            {version(run.number)} is new since {version(changes.since)} was approved:{' '}
            {framesText(changes.frames.length)} changed.
          </>
        ) : (
          'Nobody has decided about this version yet.'
        )}
        {changes && changes.since > 0 && changes.frames.length > 0 && (
          <button
            aria-pressed={!!only}
            className="ml-2 min-h-6 text-t1 underline underline-offset-3"
            onClick={() => onOnly(only ? undefined : changes.frames)}
          >
            {only ? 'show all' : 'show only these'}
          </button>
        )}
      </p>
      {asked === undefined ? (
        <div className="flex gap-2">
          <Button
            main={main && !own}
            disabled={!ended(run)}
            title={layerNewest === run.id ? undefined : 'There is a newer version of this strand'}
            onClick={() => setAsked(true)}
          >
            Approve …
          </Button>
          <Button disabled={!ended(run)} onClick={() => setAsked(false)}>
            Turn down …
          </Button>
        </div>
      ) : (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            save();
          }}
          onKeyDown={(e) => e.key === 'Escape' && setAsked(undefined)}
        >
          <input
            autoFocus={!who}
            aria-label="Who decides"
            placeholder="Your name"
            className={field}
            value={who}
            onChange={(e) => setWho(e.target.value)}
          />
          <input
            autoFocus={!!who}
            aria-label={asked ? 'Remark' : 'Why it is turned down'}
            placeholder={asked ? 'A remark, if there is one' : 'Why it is turned down'}
            className={field}
            value={note}
            onChange={(e) => setNote(e.target.value)}
          />
          {others.length > 0 && (
            <label className="flex min-h-7 items-center gap-2 text-t2">
              <input type="checkbox" checked={shot} onChange={(e) => setShot(e.target.checked)} />
              all {others.length + 1} layers of {run.shot}
            </label>
          )}
          <div className="mt-2 flex gap-2">
            <Button main type="submit" disabled={decide.isPending}>
              {asked ? 'Approve' : 'Turn down'}
            </Button>
            <Button onClick={() => setAsked(undefined)}>Not now</Button>
          </div>
        </form>
      )}
    </section>
  );
}
