import { useState } from 'react';
import type { StrandEstimate, StrandLedger } from '../api/client';
import { useChecks, useEstimates, useLedger, useStartStrands } from '../api/queries';
import type { StrandView } from '../api/strands';
import { useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { isKnown, readyIn, sumOf } from '../shell/estimate';
import { bytes, count } from '../shell/format';
import { countsOf, toRender } from '../shell/ledger';
import { useNotices } from '../shell/Notices';
import { Row } from '../shell/Row';

/** What notices about a strand are about unless it is a single field. */
export const STRAND = 'strand';

export const strandsText = (n: number) => (n === 1 ? '1 strand' : `${n} strands`);

function toRenderText(all: StrandLedger[]): string {
  const n = toRender(countsOf(all));
  return n === 0 ? 'all fresh' : `${count(n)} to render`;
}

/** When all strands that are on would be ready, and what they take on the disk. */
function takes(all: StrandEstimate[]): string | false {
  const left = all.filter((e) => e.frames > 0);
  const pending = left.filter((e) => !isKnown(e) && e.pending).length;
  const known = left.filter(isKnown);
  if (pending > 0) {
    return `trying frames out: ${left.length - pending} of ${left.length} strands`;
  }
  if (known.length === 0) {
    return false;
  }
  const ready = `${readyIn(sumOf(known.map((e) => e.seconds)))}, ${bytes(sumOf(known.map((e) => e.bytes)).value)}`;
  const unknown = left.length - known.length;
  return unknown > 0 ? `${ready}, without ${strandsText(unknown)} not known` : ready;
}

/** Starts what is on, or the chosen strand alone. */
export function Commands({ strand, rows }: { strand: StrandView; rows: StrandView[][] }) {
  const start = useStartStrands();
  const go = useGo();
  const { tell, mended } = useNotices();
  const [comb, setComb] = useState(false);
  const ledger = useLedger().data;
  const estimates = useEstimates().data;
  const stopped = useChecks().data?.some((f) => f.severity === 'ERROR') ?? false;
  const on = rows.flat().filter((v) => v.strand.on);
  const run = (strands: { shotId: number; layerId: number }[] | null) =>
    start.mutate(
      { strands, comb },
      {
        onSuccess: ([first]) => {
          mended(STRAND);
          if (first) {
            go({
              station: 'run',
              shot: first.shot,
              layer: first.layer,
              version: first.number,
              run: first.run,
            });
          }
        },
        onError: (e) => tell(e.message, { bad: true, about: STRAND }),
      },
    );
  return (
    <>
      <div className="w-full">
        <Row
          name="Frames"
          hint={ledger && toRenderText(ledger)}
          note={estimates && takes(estimates)}
        >
          <Choice
            label="Order of the frames"
            value={comb ? 'comb' : 'order'}
            options={[
              { value: 'order', label: 'in order' },
              { value: 'comb', label: 'coarse first', hint: 'faults show early' },
            ]}
            onChange={(v) => setComb(v === 'comb')}
          />
        </Row>
      </div>
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
