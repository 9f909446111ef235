import { stopLedgerCheck, useCheckLedger, useLedgerCheck, useProduction } from '../api/queries';
import { useTell } from '../shell/Notices';

const LINK =
  'min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1 disabled:text-t3';

/** Has a sample of fresh frames rendered again, and says whether they came out the same. */
export function CheckFresh() {
  const production = useProduction().data?.id;
  const start = useCheckLedger();
  const tell = useTell();
  const last = useLedgerCheck();
  const check = last?.productionId === production ? last : null;
  return (
    <p className="mt-1 flex gap-3 text-t2">
      {check?.running ? (
        <>
          <span role="status">
            Rendering fresh frames again: {check.done} of {check.total} compared
          </span>
          <button className={LINK} onClick={() => void stopLedgerCheck()}>
            Cancel
          </button>
        </>
      ) : (
        <>
          <button
            className={LINK}
            disabled={start.isPending}
            title="Six frames that are called fresh, compared bit by bit with their files"
            onClick={() =>
              start.mutate(undefined, { onError: (e) => tell(e.message, { bad: true }) })
            }
          >
            Render a sample of fresh frames again
          </button>
          {check && <span role="status">{outcome(check)}</span>}
        </>
      )}
    </p>
  );
}

function outcome(c: { done: number; different: string[]; failure: string | null }): string {
  if (c.different.length > 0) {
    return `${c.different.join('; ')} came out otherwise; suspect from now on.`;
  }
  const same = `${c.done} compared, all the same bits.`;
  return c.failure ? `${c.failure} ${c.done > 0 ? same : ''}` : same;
}
