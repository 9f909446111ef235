import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useMemo, useState } from 'react';
import { reviewPackage, type RunStrand } from '../api/client';
import { useProduction, useRunStrands } from '../api/queries';
import { useApprovals, useRemarks } from '../api/review';
import { Button } from '../shell/Button';
import { version } from '../shell/format';
import { ended } from './source';

/** Packs strands for whoever has no Posada: one page that plays from the disk. */
export function PackageDialog({ first, onClose }: { first?: RunStrand; onClose: () => void }) {
  const production = useProduction().data;
  const runs = useRunStrands().data;
  const remarks = useRemarks();
  const approvals = useApprovals();
  // The newest version of each strand.
  const newest = useMemo(() => {
    const all = (runs ?? []).filter((r) => r.fresh > 0 && r.kind !== 'PROOF' && ended(r));
    return [...new Map(all.toReversed().map((r) => [`${r.shotId} ${r.layerId}`, r])).values()];
  }, [runs]);
  const listed = first && !newest.some((r) => r.id === first.id) ? [first, ...newest] : newest;
  const [chosen, setChosen] = useState<number[]>(first ? [first.id] : []);
  const said = (r: RunStrand) => {
    const notes = remarks.filter((m) => m.footage === `strand-${r.id}`).length;
    const word = approvals?.find((a) => a.strandId === r.id);
    return [
      word ? (word.approved ? 'approved' : 'turned down') : 'not decided',
      `${notes} ${notes === 1 ? 'note' : 'notes'}`,
    ].join(' · ');
  };
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="flex max-h-[80vh] w-120 flex-col rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-1 font-semibold">Make a review package</DialogTitle>
          <p className="mb-3 text-t2">
            A zip with one page that any browser shows from the disk: films, marked frames, notes,
            and who decided what.
          </p>
          <ul className="min-h-0 flex-1 overflow-auto">
            {listed.map((r) => (
              <li key={r.id} className="border-b border-line">
                <label className="flex min-h-8 items-center gap-3">
                  <input
                    type="checkbox"
                    checked={chosen.includes(r.id)}
                    onChange={(e) =>
                      setChosen((all) =>
                        e.target.checked ? [...all, r.id] : all.filter((id) => id !== r.id),
                      )
                    }
                  />
                  <span>
                    {r.shot}{' '}
                    <span className="fig text-t2">
                      {r.layer} {version(r.number)}
                    </span>
                  </span>
                  <span className="ml-auto text-t3">{said(r)}</span>
                </label>
              </li>
            ))}
          </ul>
          <div className="mt-5 flex justify-end gap-2.5">
            <Button onClick={onClose}>Close</Button>
            {chosen.length > 0 ? (
              <a
                className="rounded-sm bg-mark px-4 py-1.5 font-semibold text-onmark"
                href={reviewPackage(production!.id, chosen)}
                download
                onClick={onClose}
              >
                Make and download
              </a>
            ) : (
              <Button main disabled>
                Make and download
              </Button>
            )}
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
