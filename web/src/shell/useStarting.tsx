import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState, type ReactNode } from 'react';
import type { Finding } from '../api/client';
import { useChecks, useStartStrands, type Wanted } from '../api/queries';
import { useGo } from './address';
import { Button } from './Button';
import { FindingText } from './FindingText';
import { useNotices } from './Notices';

/** What is to be started, and the warnings that are to be read first. */
type Asked = { strands: Wanted[] | null; comb: boolean; warnings: Finding[] };

/** Starts strands and goes to their run; warnings are shown first, and accepted or not. */
export function useStarting(about: string): {
  /**
   * @param strands null for all that are on
   * @param mine which findings are about them
   */
  ask: (strands: Wanted[] | null, mine: (f: Finding) => boolean, comb?: boolean) => void;
  pending: boolean;
  dialog: ReactNode;
} {
  const start = useStartStrands();
  const go = useGo();
  const { tell, mended } = useNotices();
  const [asked, setAsked] = useState<Asked>();
  const found = useChecks().data?.findings ?? [];
  const run = (a: Asked) => {
    setAsked(undefined);
    start.mutate(a, {
      onSuccess: ([first]) => {
        mended(about);
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
      onError: (e) => tell(e.message, { bad: true, about }),
    });
  };
  return {
    ask: (strands, mine, comb = false) => {
      const warnings = found.filter((f) => f.severity === 'WARNING' && mine(f));
      const a = { strands, comb, warnings };
      if (warnings.length > 0) {
        setAsked(a);
      } else {
        run(a);
      }
    },
    pending: start.isPending,
    dialog: asked && (
      <Warnings
        warnings={asked.warnings}
        onAccept={() => run(asked)}
        onClose={() => setAsked(undefined)}
      />
    ),
  };
}

function Warnings({
  warnings,
  onAccept,
  onClose,
}: {
  warnings: Finding[];
  onAccept: () => void;
  onClose: () => void;
}) {
  const these = warnings.length === 1 ? 'this warning' : `these ${warnings.length} warnings`;
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="flex max-h-[80vh] w-[30rem] flex-col rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-1 font-semibold">Start with {these}?</DialogTitle>
          <p className="mb-2 text-t2">What you accept is written down with the run.</p>
          <ul className="min-h-0 flex-1 overflow-auto">
            {warnings.map((f) => (
              <li
                key={`${f.rule} ${f.shot} ${f.layer} ${f.text}`}
                className="border-t border-line py-2"
              >
                <FindingText finding={f} />
              </li>
            ))}
          </ul>
          <div className="mt-4 flex justify-end gap-2.5">
            <Button onClick={onClose}>Back</Button>
            <Button main autoFocus onClick={onAccept}>
              Accept and start
            </Button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
