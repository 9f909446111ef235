import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useMemo, useState } from 'react';
import type { Ease, RigCamera } from '../api/client';
import { useStops, withCamera } from '../api/rigs';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { frameOf } from '../space/pose';
import { EASES } from './eases';
import { useWork } from './work';

const number = (text: string) => Number(text.replace(',', '.'));

/** A camera's keys as stops, with seconds for each way from one to the next. */
export function StopsDialog({ camera, onClose }: { camera: RigCamera; onClose: () => void }) {
  const w = useWork();
  const first = frameOf(camera.keys[0]!.time, w.rate);
  const [from, setFrom] = useState(String(first));
  const [ease, setEase] = useState<Ease>('eased');
  const [seconds, setSeconds] = useState(() => camera.keys.map(() => ({ hold: '0', way: '2' })));
  const stops = useMemo(
    () =>
      camera.keys.map((pose, i) => ({
        pose,
        hold: number(seconds[i]!.hold),
        transition: number(seconds[i]!.way),
      })),
    [camera, seconds],
  );
  const asked = useStops(stops, number(from), w.rate, ease);
  const move = asked.data;
  const put = (i: number, part: Partial<(typeof seconds)[number]>) =>
    setSeconds((all) => all.map((s, k) => (k === i ? { ...s, ...part } : s)));
  const take = async () => {
    if (
      move &&
      (await w.change((rig) => withCamera(rig, camera.name, { ...camera, keys: move.keys })))
    ) {
      onClose();
    }
  };
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="flex max-h-[80vh] w-120 flex-col rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-1 font-semibold">Stops of {camera.name}</DialogTitle>
          <p className="mb-3 text-t2">
            Each key is a stop. Say how long the camera stays, and how long it takes to the next.
          </p>
          <div className="mb-2 flex items-baseline gap-3">
            <label className="text-t2">
              From frame{' '}
              <input
                className="fig w-14 border-b border-line bg-transparent text-t1"
                aria-label="First frame of the move"
                value={from}
                onChange={(e) => setFrom(e.target.value)}
              />
            </label>
            <span className="text-t2">moves</span>
            <Choice
              label="How it moves"
              value={ease}
              options={EASES.filter((e) => e.value !== 'step')}
              onChange={setEase}
            />
          </div>
          <ol className="min-h-0 overflow-auto">
            {camera.keys.map((k, i) => (
              <li
                key={k.time}
                className="flex min-h-8 items-baseline gap-3 border-b border-line py-1"
              >
                <span className="w-16">Stop {i + 1}</span>
                <label className="text-t2">
                  stays{' '}
                  <input
                    className="fig w-12 border-b border-line bg-transparent text-t1"
                    aria-label={`Seconds at stop ${i + 1}`}
                    value={seconds[i]!.hold}
                    onChange={(e) => put(i, { hold: e.target.value })}
                  />{' '}
                  s
                </label>
                {i < camera.keys.length - 1 && (
                  <label className="text-t2">
                    then takes{' '}
                    <input
                      className="fig w-12 border-b border-line bg-transparent text-t1"
                      aria-label={`Seconds from stop ${i + 1} to stop ${i + 2}`}
                      value={seconds[i]!.way}
                      onChange={(e) => put(i, { way: e.target.value })}
                    />{' '}
                    s
                  </label>
                )}
              </li>
            ))}
          </ol>
          <p className="mt-3 min-h-5" role="status" data-testid="stops">
            {asked.isError ? asked.error.message : move?.sentence}
          </p>
          <div className="mt-4 flex gap-2">
            <Button main disabled={!move || asked.isError} onClick={() => void take()}>
              Set keys
            </Button>
            <Button onClick={onClose}>Close</Button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
