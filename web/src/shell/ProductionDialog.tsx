import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import type { Production } from '../api/client';
import { useChangeProduction } from '../api/queries';
import { Button } from './Button';

const FIELDS = [
  { key: 'name', label: 'Name', unit: '' },
  { key: 'frameRate', label: 'Frame rate', unit: 'fps' },
  { key: 'width', label: 'Width of new shots', unit: 'px' },
  { key: 'height', label: 'Height of new shots', unit: 'px' },
] as const;

/** What holds for a whole production. */
export function ProductionDialog({
  production,
  onClose,
}: {
  production: Production;
  onClose: () => void;
}) {
  const change = useChangeProduction();
  const [text, setText] = useState<Record<string, string>>(() =>
    Object.fromEntries(FIELDS.map(({ key }) => [key, String(production[key])])),
  );
  // A new name changes the address, and with it what is on the screen; the answer is heard anyway.
  const save = () =>
    change
      .mutateAsync({
        ...production,
        name: text.name ?? '',
        frameRate: Number(text.frameRate),
        width: Number(text.width),
        height: Number(text.height),
      })
      .then(onClose, () => undefined);
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="w-96 rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-3 font-semibold">Production</DialogTitle>
          <form
            onSubmit={(e) => {
              e.preventDefault();
              void save();
            }}
          >
            {FIELDS.map(({ key, label, unit }) => (
              <label
                key={key}
                className="flex items-baseline gap-3 border-b border-line py-1.5 last:border-0"
              >
                <span className="w-36 text-t2">{label}</span>
                <input
                  className={`min-w-0 flex-1 bg-transparent ${unit ? 'fig' : ''}`}
                  value={text[key]}
                  onChange={(e) => setText({ ...text, [key]: e.target.value })}
                />
                <span className="text-t3">{unit}</span>
              </label>
            ))}
            {change.error && (
              <p role="alert" className="mt-3">
                <b className="mr-2 text-bad">Not saved.</b>
                {change.error.message}
              </p>
            )}
            <div className="mt-5 flex justify-end gap-2.5">
              <Button onClick={onClose}>Close</Button>
              <Button main type="submit">
                Save
              </Button>
            </div>
          </form>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
