import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useRef, useState } from 'react';
import { useOpenSequence } from '../api/review';
import { Button } from '../shell/Button';
import { useGo } from '../shell/address';
import { useTell } from '../shell/Notices';

/** Opens a sequence from elsewhere: where it lies, or as files that are sent. */
export function OpenSequence({ onClose }: { onClose: () => void }) {
  const open = useOpenSequence();
  const go = useGo();
  const tell = useTell();
  const files = useRef<HTMLInputElement>(null);
  const [path, setPath] = useState('');
  const take = (from: { path: string } | { files: File[] }) =>
    open.mutate(from, {
      onSuccess: (all) => {
        onClose();
        if (all.length > 1) {
          tell(
            `There are ${all.length} sequences: ${all.map((s) => s.pattern).join(', ')}. The first is shown; all are in the list.`,
          );
        }
        go({ footage: `sequence-${all[0]!.id}`, against: undefined });
      },
    });
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="w-120 rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-1 font-semibold">Open a sequence</DialogTitle>
          <p className="mb-3 text-t2">
            A folder of EXR, PNG, TIFF or JPEG with numbers, a zip of them, a film, or a picture by
            itself. A folder is watched where it lies; all else is copied here.
          </p>
          <form
            onSubmit={(e) => {
              e.preventDefault();
              take({ path });
            }}
          >
            <input
              aria-label="Path"
              placeholder="Path on the server's machine"
              className="fig w-full border-b border-t3 bg-transparent py-1.5 focus:border-t1 focus:outline-none"
              value={path}
              spellCheck={false}
              onChange={(e) => setPath(e.target.value)}
            />
            {open.error && (
              <p role="alert" className="mt-3">
                <b className="mr-2 text-bad">Not opened.</b>
                {open.error.message}
              </p>
            )}
            <div className="mt-5 flex gap-2.5">
              <Button onClick={() => files.current!.click()} disabled={open.isPending}>
                Send files …
              </Button>
              <input
                ref={files}
                type="file"
                multiple
                hidden
                aria-label="Files"
                accept=".exr,.png,.tif,.tiff,.jpg,.jpeg,.zip,.mp4,.mov,.mkv,.webm,.avi,.m4v"
                onChange={(e) => {
                  const some = [...(e.target.files ?? [])];
                  if (some.length > 0) {
                    take({ files: some });
                  }
                }}
              />
              <span className="flex-1" />
              <Button onClick={onClose}>Close</Button>
              <Button main type="submit" disabled={!path.trim() || open.isPending}>
                {open.isPending ? 'Opening …' : 'Open'}
              </Button>
            </div>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
