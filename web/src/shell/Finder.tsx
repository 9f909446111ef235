import {
  Combobox,
  ComboboxInput,
  ComboboxOption,
  ComboboxOptions,
  Dialog,
  DialogBackdrop,
  DialogPanel,
} from '@headlessui/react';
import { useMemo, useState } from 'react';
import { useProductions, useRunStrands, useShots } from '../api/queries';
import { useStacks } from '../api/assembly';
import { LINE, useGo } from './address';
import { useChooseRun } from './current';
import { find, type Found } from './finding';
import { version } from './format';
import { useUndo } from './undo';

const capital = (s: string) => s[0]!.toUpperCase() + s.slice(1);

/** Finds stations, shots, runs, productions and commands by some of their letters. */
export function Finder({ onClose, onHelp }: { onClose: () => void; onHelp: () => void }) {
  const [letters, setLetters] = useState('');
  const shots = useShots().data;
  const runs = useRunStrands().data;
  const productions = useProductions().data;
  const stacks = useStacks();
  const go = useGo();
  const choose = useChooseRun();
  const undo = useUndo();
  const all = useMemo<Found[]>(
    () => [
      ...LINE.map((station) => ({
        name: capital(station),
        kind: 'station',
        keys: String(LINE.indexOf(station) + 1),
        run: () => go({ station }),
      })),
      { name: 'Undo', kind: 'command', keys: 'Ctrl Z', run: () => undo('undo') },
      { name: 'Redo', kind: 'command', keys: 'Shift Ctrl Z', run: () => undo('redo') },
      { name: 'Keyboard shortcuts', kind: 'command', keys: '?', run: onHelp },
      ...(shots ?? []).map((s) => ({
        name: s.name,
        kind: 'shot',
        run: () => go({ station: 'shots', shot: s.name }),
      })),
      ...(runs ?? []).map((r) => ({
        name: `${r.shot} ${r.layer} ${version(r.number)}`,
        kind: 'run',
        run: () => choose(r, { station: 'run' }),
      })),
      ...(stacks ?? []).map((s) => ({
        name: s.name,
        kind: 'stack',
        run: () => go({ station: 'assembly', stack: s.name }),
      })),
      ...(productions ?? []).map((p) => ({
        name: p.name,
        kind: p.archived ? 'archived production' : 'production',
        run: () =>
          go({ production: p.address, station: 'scene', shot: undefined, version: undefined }),
      })),
    ],
    [shots, runs, stacks, productions, go, choose, undo, onHelp],
  );
  const found = find(all, letters);
  const take = (f: Found | null) => {
    if (f) {
      onClose();
      f.run();
    }
  };
  return (
    <Dialog open aria-label="Find" onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 flex justify-center pt-24">
        <DialogPanel className="h-fit w-130 rounded-sm border border-t3 bg-up">
          <Combobox value={null} onChange={take}>
            <ComboboxInput
              autoFocus
              aria-label="Find"
              placeholder="Find a station, shot, run or command"
              className="w-full bg-transparent px-4 py-3 text-[15px] outline-none placeholder:text-t3"
              value={letters}
              onChange={(e) => setLetters(e.target.value)}
            />
            <ComboboxOptions static className="max-h-90 overflow-auto border-t border-line py-1">
              {found.map((f) => (
                <ComboboxOption
                  key={`${f.kind} ${f.name}`}
                  value={f}
                  className="flex cursor-pointer gap-4 px-4 py-1.5 data-focus:bg-up2"
                >
                  <span className="min-w-0 flex-1 truncate">{f.name}</span>
                  <span className="text-t3">{f.kind}</span>
                  {f.keys && <span className="fig w-24 text-right text-t2">{f.keys}</span>}
                </ComboboxOption>
              ))}
              {found.length === 0 && (
                <p className="px-4 py-2 text-t2">Nothing has these letters in this order.</p>
              )}
            </ComboboxOptions>
          </Combobox>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
