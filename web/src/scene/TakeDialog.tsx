import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import type { Renaming, Revision } from '../api/client';
import { useDifference, useDiscardRevision, useTakeRevision, useUnfit } from '../api/revisions';
import { Button } from '../shell/Button';
import { revision as revisionText } from '../shell/format';
import { useNotices } from '../shell/Notices';
import { useUndo } from '../shell/undo';
import { besides, Differences, Lines } from './Against';

/** What another revision changes, before everything goes to it. */
export function TakeDialog({
  to,
  from,
  how,
  onTaken,
  onClose,
}: {
  to: Revision;
  from: Revision;
  /** Whether it waits, or is there already. */
  how: 'take' | 'use';
  onTaken: (r: Revision) => void;
  onClose: () => void;
}) {
  const found = useDifference(to, from);
  const [turned, setTurned] = useState<string[]>([]);
  const take = useTakeRevision();
  const discard = useDiscardRevision();
  const { tell } = useNotices();
  const undo = useUndo();
  const d = found.data;
  // What is certain is taken unless somebody says otherwise, what is not only if somebody does.
  const same = (r: { from: string; certain: boolean }) => r.certain !== turned.includes(r.from);
  const renamed: Renaming[] = (d?.renamed ?? [])
    .filter(same)
    .map((r) => ({ from: r.from, to: r.to }));
  const unfit = useUnfit(to, renamed);
  const number = revisionText(to.number);
  const older = to.number < from.number;
  const go = async () => {
    try {
      const { unfit: left } = await take.mutateAsync({ id: to.id, how, renamed });
      const all = left.length === 0 ? 'Everything of' : 'What fits of';
      tell(`${all} ${to.scene} uses ${number} now.`, {
        action: { label: 'Undo', run: () => undo('undo') },
      });
      left.forEach((u) => tell(u, { bad: true }));
      onTaken(to);
    } catch (e) {
      tell((e as Error).message, { bad: true });
    }
  };
  const throwAway = async () => {
    try {
      await discard.mutateAsync(to.id);
      tell(`${number} of ${to.scene} is thrown away.`);
      onClose();
    } catch (e) {
      tell((e as Error).message, { bad: true });
    }
  };
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="flex max-h-[80vh] w-140 flex-col rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-1 font-semibold">
            {to.scene}: {older ? 'back from' : 'from'} {revisionText(from.number)} to {number}
          </DialogTitle>
          <p className="mb-2 text-t2">
            Shots, layers, the rig and what was remarked carry over. This is what is another:
          </p>
          <div className="min-h-24 overflow-auto pr-2" tabIndex={0} aria-label="What is another">
            {found.isError && <p>{found.error.message}</p>}
            {!d && !found.isError && <p className="text-t2">comparing …</p>}
            {d && (
              <Differences d={d}>
                {d.renamed.length > 0 && (
                  <>
                    <h3 className="mt-1.5 text-t2">
                      Renamed <span className="fig">{d.renamed.length}</span>
                    </h3>
                    <ul>
                      {d.renamed.map((r) => (
                        <li key={r.from} className="border-b border-line">
                          <label className="flex min-h-7 items-center gap-2.5">
                            <input
                              type="checkbox"
                              className="accent-[var(--mark)]"
                              checked={same(r)}
                              onChange={() =>
                                setTurned((all) =>
                                  all.includes(r.from)
                                    ? all.filter((n) => n !== r.from)
                                    : [...all, r.from],
                                )
                              }
                            />
                            <span className="min-w-0 flex-1 truncate">
                              {r.from} is {r.to} now
                              {besides(r.what)}
                            </span>
                            <span className="text-t3">
                              {r.certain ? 'certain' : 'perhaps: tick it if it is'}
                            </span>
                          </label>
                        </li>
                      ))}
                    </ul>
                  </>
                )}
              </Differences>
            )}
            {unfit.data && <Lines title="Does not fit" items={unfit.data} />}
            {unfit.isError && <p>{unfit.error.message}</p>}
          </div>
          <div className="mt-4 flex justify-end gap-2">
            {how === 'take' && (
              <Button
                className="mr-auto"
                disabled={discard.isPending}
                onClick={() => void throwAway()}
              >
                Throw away
              </Button>
            )}
            <Button onClick={onClose}>{how === 'take' ? 'Later' : 'Cancel'}</Button>
            <Button main disabled={!d || take.isPending} onClick={() => void go()}>
              {how === 'take' ? `Take ${number}` : `Use ${number}`}
            </Button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
