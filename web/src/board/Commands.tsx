import { useChecks, useStartStrands } from '../api/queries';
import type { StrandView } from '../api/strands';
import { useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { useNotices } from '../shell/Notices';

/** What notices about a strand are about unless it is a single field. */
export const STRAND = 'strand';

export const strandsText = (n: number) => (n === 1 ? '1 strand' : `${n} strands`);

/** Starts what is on, or the chosen strand alone. */
export function Commands({ strand, rows }: { strand: StrandView; rows: StrandView[][] }) {
  const start = useStartStrands();
  const go = useGo();
  const { tell, mended } = useNotices();
  const stopped = useChecks().data?.some((f) => f.severity === 'ERROR') ?? false;
  const on = rows.flat().filter((v) => v.strand.on);
  const run = (strands: { shotId: number; layerId: number }[] | null) =>
    start.mutate(strands, {
      onSuccess: ([first]) => {
        mended(STRAND);
        if (first) {
          go({ station: 'run', shot: first.shot, layer: first.layer, version: first.number });
        }
      },
      onError: (e) => tell(e.message, { bad: true, about: STRAND }),
    });
  return (
    <>
      <Button
        main
        disabled={start.isPending || on.length === 0 || stopped}
        title={stopped ? 'Errors must be mended first; see Before it starts' : undefined}
        onClick={() => run(null)}
      >
        Start {strandsText(on.length)}
      </Button>
      <Button
        disabled={start.isPending}
        onClick={() => run([{ shotId: strand.shot.id, layerId: strand.layer.id }])}
      >
        Start this one
      </Button>
    </>
  );
}
