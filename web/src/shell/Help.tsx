import { windowMark } from '../api/client';
import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';

const KEYS: [string, string][] = [
  ['1 … 8', 'Scene, Shots, Layers, Quality, Board, Run, Review, Assembly'],
  ['← →', 'one frame back or on'],
  ['Home · End', 'first or last frame'],
  ['← ↑ ↓ →', 'another strand (Board)'],
  ['Space', 'switch the strand on or off (Board)'],
  ['↑ ↓ → ←', 'another object; open or close what is below it (Scene, Layers)'],
  ['S · U · H · C · L', 'seen, unseen, holdout, catches shadows, left out (Layers)'],
  ['Backspace', 'as what is above it (Layers)'],
  ['Space', 'play or pause (Scene, Review, Assembly)'],
  ['A · C', 'bring all, or what is chosen, into sight (Scene)'],
  ['K', 'set a key of the camera where the view is (Scene)'],
  [', · . · Delete', 'move the chosen keys by a frame; remove them (Scene)'],
  ['I · O', 'set the in or out point (Review)'],
  ['Backspace', 'clear in and out (Review)'],
  ['F · Z · Shift Z', 'fit or 1:1; closer; farther (Review)'],
  ['B · N', 'draw a box; write a note (Review)'],
  ['P', 'nothing but the picture (Review)'],
  ['− · +', 'exposure down or up by half a stop (Review, Assembly)'],
  ['↑ ↓ · Alt ↑ ↓', 'another input; move it up or down (Assembly)'],
  ['W · A', 'before and after; this input alone (Assembly)'],
  ['Ctrl K', 'find a station, shot, run or command'],
  ['Ctrl Z · Shift Ctrl Z', 'undo or redo the last change of this window'],
  ['?', 'this list'],
];

export function Help({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="max-h-[92vh] w-130 overflow-auto rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-3 font-semibold">Keyboard</DialogTitle>
          <dl>
            {KEYS.map(([k, what]) => (
              <div key={what} className="flex gap-4 border-b border-line py-1.5 last:border-0">
                <dt className="fig w-44 shrink-0">{k}</dt>
                <dd className="text-t2">{what}</dd>
              </div>
            ))}
          </dl>
          <p className="mt-3 text-t2">
            Other windows are told of changes in this one as those of window{' '}
            <span className="fig">{windowMark()}</span>.
          </p>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
