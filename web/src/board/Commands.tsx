import { useState } from 'react';
import type { StrandEstimate, StrandLedger } from '../api/client';
import { useChecks, useEstimates, useHealth, useLedger } from '../api/queries';
import type { StrandView } from '../api/strands';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { isKnown, readyIn, sumOf } from '../shell/estimate';
import { bytes, count } from '../shell/format';
import { countsOf, toRender } from '../shell/ledger';
import { Row } from '../shell/Row';
import { useStarting } from '../shell/useStarting';

/** What notices about a strand are about unless it is a single field. */
export const STRAND = 'strand';

export const strandsText = (n: number) => (n === 1 ? '1 strand' : `${count(n)} strands`);

function toRenderText(all: StrandLedger[]): string {
  const n = toRender(countsOf(all));
  return n === 0 ? 'all fresh' : `${count(n)} to render`;
}

/** When all strands that are on would be ready, and what they take on the disk. */
function takes(all: StrandEstimate[], free: number | undefined): string | false {
  const left = all.filter((e) => e.frames > 0);
  const pending = left.filter((e) => !isKnown(e) && e.pending).length;
  const known = left.filter(isKnown);
  if (pending > 0) {
    return `trying frames out: ${count(left.length - pending)} of ${strandsText(left.length)}`;
  }
  if (known.length === 0) {
    return false;
  }
  const disk = bytes(sumOf(known.map((e) => e.bytes)).value);
  const ready = `${readyIn(sumOf(known.map((e) => e.seconds)))}, ${disk}${free ? ` of ${bytes(free)} free` : ''}`;
  const unknown = left.length - known.length;
  return unknown > 0 ? `${ready}, without ${strandsText(unknown)} not known` : ready;
}

/** Starts what is on, or the chosen strand alone. */
export function Commands({ strand, rows }: { strand: StrandView; rows: StrandView[][] }) {
  const { ask, pending, dialog } = useStarting(STRAND);
  const [comb, setComb] = useState(false);
  const [only, setOnly] = useState('');
  const ledger = useLedger().data;
  const estimates = useEstimates().data;
  const free = useHealth()?.freeBytes;
  const found = useChecks().data?.findings ?? [];
  const stopped = found.some((f) => f.severity === 'ERROR');
  const on = rows.flat().filter((v) => v.strand.on);
  const { shot, layer } = strand;
  return (
    <>
      <div className="w-full">
        <Row
          name="Frames"
          hint={ledger && toRenderText(ledger)}
          note={estimates && takes(estimates, free)}
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
        disabled={pending || on.length === 0 || stopped}
        title={stopped ? 'Errors must be mended first; see Before it starts' : undefined}
        onClick={() => ask(null, () => true, comb)}
      >
        Start {strandsText(on.length)}
      </Button>
      <form
        className="flex w-full gap-2.5"
        onSubmit={(e) => {
          e.preventDefault();
          ask(
            [{ shotId: shot.id, layerId: layer.id, frames: only.trim() || null }],
            (f) => f.shot === shot.name && (!f.layer || f.layer === layer.name),
            comb,
          );
        }}
      >
        <Button type="submit" disabled={pending}>
          Start this one
        </Button>
        <input
          aria-label="Frames of this one"
          title="Which frames of this strand to render, as 1-48 or 10,20,30; empty for all"
          placeholder="all frames"
          spellCheck={false}
          autoComplete="off"
          value={only}
          onChange={(e) => setOnly(e.target.value)}
          className="fig min-w-0 flex-1 border-b border-line bg-transparent py-1 placeholder:text-t3 focus:border-mark"
        />
      </form>
      {dialog}
    </>
  );
}
