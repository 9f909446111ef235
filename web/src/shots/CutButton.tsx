import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import { answer, api, type Revision } from '../api/client';
import { again } from '../api/queries';
import { useCameras } from '../api/rigs';
import { useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { useCurrentRevision } from '../shell/current';
import { useNotices } from '../shell/Notices';
import { useUndo } from '../shell/undo';

type Bound = { frame: string; camera: string };

/** Makes shots of a list that says from which frame on which camera is seen. */
export function CutButton() {
  const revision = useCurrentRevision();
  const [open, setOpen] = useState(false);
  return (
    revision && (
      <>
        <button
          className="mt-2 min-h-6 w-full text-center text-t2 hover:text-t1"
          onClick={() => setOpen(true)}
        >
          Shots from bound cameras
        </button>
        {open && <CutDialog revision={revision} onClose={() => setOpen(false)} />}
      </>
    )
  );
}

/** Reads a whole number as it was typed; an empty place or letters are none. */
function whole(what: string, text: string): number {
  if (!/^\s*-?\d+\s*$/.test(text)) {
    throw new Error(`${what} must be a whole number (got “${text}”).`);
  }
  return Number(text);
}

function CutDialog({ revision, onClose }: { revision: Revision; onClose: () => void }) {
  const cameras = useCameras(revision);
  const first = cameras[0]?.name ?? '';
  const [bound, setBound] = useState<Bound[]>([{ frame: String(revision.first), camera: first }]);
  const [last, setLast] = useState(String(revision.last));
  const [handles, setHandles] = useState('0');
  const [why, setWhy] = useState<string>();
  const { tell } = useNotices();
  const undo = useUndo();
  const go = useGo();
  const put = (i: number, part: Partial<Bound>) =>
    setBound((all) => all.map((b, k) => (k === i ? { ...b, ...part } : b)));
  const make = async () => {
    try {
      const made = await answer(
        api.POST('/api/shots/cut', {
          body: {
            revisionId: revision.id,
            last: whole('The last frame', last),
            handles: whole('Handles', handles),
            bound: bound.map((b, i) => ({
              frame: whole(`The frame of camera ${i + 1}`, b.frame),
              camera: b.camera,
            })),
          },
        }),
      );
      await again('shots', 'strands', 'ledger');
      tell(`${made.length === 1 ? '1 shot is' : `${made.length} shots are`} made.`, {
        action: { label: 'Undo', run: () => undo('undo') },
      });
      onClose();
      go({ shot: made[0]!.name });
    } catch (e) {
      setWhy((e as Error).message);
    }
  };
  const more = () => {
    const at = Number(bound.at(-1)?.frame ?? revision.first);
    const next = Math.min(Number(last), at + Math.max(1, Math.round((Number(last) - at) / 2)));
    const used = bound.map((b) => b.camera);
    const camera = cameras.find((c) => !used.includes(c.name))?.name ?? first;
    setBound([...bound, { frame: String(next), camera }]);
  };
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="flex max-h-[80vh] w-110 flex-col rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-1 font-semibold">Shots from bound cameras</DialogTitle>
          <p className="mb-3 text-t2">
            Say from which frame on each camera is seen; each becomes a shot.
          </p>
          <ol className="min-h-0 overflow-auto">
            {bound.map((b, i) => (
              <li key={i} className="flex min-h-8 items-baseline gap-3 border-b border-line py-1">
                <label className="text-t2">
                  from frame{' '}
                  <input
                    aria-label={`Camera ${i + 1} from frame`}
                    className="fig w-14 border-b border-line bg-transparent text-t1"
                    value={b.frame}
                    onChange={(e) => put(i, { frame: e.target.value })}
                  />
                </label>
                <span className="min-w-0 flex-1">
                  <Choice
                    label={`Camera ${i + 1}`}
                    value={b.camera}
                    options={cameras.map((c) => ({ value: c.name, label: c.name }))}
                    onChange={(camera) => put(i, { camera })}
                  />
                </span>
                {bound.length > 1 && (
                  <button
                    aria-label={`Leave camera ${i + 1} out`}
                    className="min-h-6 min-w-6 text-t2 hover:text-t1"
                    onClick={() => setBound(bound.filter((_, k) => k !== i))}
                  >
                    ×
                  </button>
                )}
              </li>
            ))}
          </ol>
          <div className="flex items-baseline justify-between py-2">
            <button className="min-h-6 text-t2 hover:text-t1" onClick={more}>
              Another camera
            </button>
            <label className="text-t2">
              last frame{' '}
              <input
                aria-label="Last frame of the cut"
                className="fig w-14 border-b border-line bg-transparent text-t1"
                value={last}
                onChange={(e) => setLast(e.target.value)}
              />
            </label>
          </div>
          <label className="text-t2">
            handles{' '}
            <input
              aria-label="Handles at each end, frames"
              className="fig w-10 border-b border-line bg-transparent text-t1"
              value={handles}
              onChange={(e) => setHandles(e.target.value)}
            />{' '}
            frames at each end, where the animation has them
          </label>
          {why && (
            <p role="alert" className="border-l-2 border-bad pl-2.5">
              {why}
            </p>
          )}
          <div className="mt-4 flex gap-2">
            <Button main onClick={() => void make()}>
              Make {bound.length === 1 ? '1 shot' : `${bound.length} shots`}
            </Button>
            <Button onClick={onClose}>Close</Button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
