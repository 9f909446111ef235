import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { answer, api, type Shot } from '../api/client';
import { again, useProduction } from '../api/queries';
import { usePlace, useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { useNotices } from '../shell/Notices';
import { Row } from '../shell/Row';
import { useUndo } from '../shell/undo';

/** Names for all shots by a pattern. */
export function RenameButton({ shots }: { shots: Shot[] }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        className="min-h-6 w-full text-center text-t2 hover:text-t1"
        onClick={() => setOpen(true)}
      >
        Rename shots
      </button>
      {open && <RenameDialog shots={shots} onClose={() => setOpen(false)} />}
    </>
  );
}

function RenameDialog({ shots, onClose }: { shots: Shot[]; onClose: () => void }) {
  const production = useProduction().data;
  const [pattern, setPattern] = useState('{camera}');
  const [first, setFirst] = useState('10');
  const [step, setStep] = useState('10');
  const [left, setLeft] = useState<number[]>([]);
  const [why, setWhy] = useState<string>();
  const current = usePlace()?.shot;
  const go = useGo();
  const { tell } = useNotices();
  const undo = useUndo();
  const ids = shots.map((s) => s.id).filter((id) => !left.includes(id));
  const body = {
    productionId: production?.id ?? 0,
    ids,
    pattern,
    first: Math.round(Number(first)),
    step: Math.round(Number(step)),
  };
  const names = useQuery({
    queryKey: ['shots', 'names', body],
    queryFn: ({ signal }) =>
      answer(api.POST('/api/shots/names', { body: { ...body, take: false }, signal })),
    enabled: production !== undefined && ids.length > 0,
    retry: false,
    gcTime: 0,
  });
  const rename = async () => {
    try {
      const given = await answer(api.POST('/api/shots/names', { body: { ...body, take: true } }));
      await again('shots');
      const at = ids.findIndex((id) => shots.find((s) => s.id === id)!.name === current);
      if (at >= 0) {
        go({ shot: given[at]! }, { replace: true });
      }
      tell(`${given.length === 1 ? '1 shot is' : `${given.length} shots are`} renamed.`, {
        action: { label: 'Undo', run: () => undo('undo') },
      });
      onClose();
    } catch (e) {
      setWhy((e as Error).message);
    }
  };
  const refused = why ?? names.error?.message;
  const field = (label: string, value: string, put: (v: string) => void, wide = false) => (
    <input
      aria-label={label}
      className={`fig border-b border-line bg-transparent ${wide ? 'w-full' : 'w-16'}`}
      value={value}
      onChange={(e) => {
        setWhy(undefined);
        put(e.target.value);
      }}
    />
  );
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="flex max-h-[80vh] w-120 flex-col rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-2 font-semibold">Rename shots</DialogTitle>
          <Row
            name="Pattern"
            note="{number}, {number:3}, {shot}, {camera} and {scene} stand for what they say"
          >
            {field('Pattern', pattern, setPattern, true)}
          </Row>
          <Row name="Numbers" hint="from, by">
            <span className="flex gap-3">
              {field('First number', first, setFirst)}
              {field('From one to the next', step, setStep)}
            </span>
          </Row>
          <ul className="mt-2 min-h-0 overflow-auto" tabIndex={0} aria-label="New names">
            {shots.map((s) => {
              const at = ids.indexOf(s.id);
              return (
                <li key={s.id} className="border-b border-line">
                  <label className="flex min-h-7 items-center gap-2.5">
                    <input
                      type="checkbox"
                      className="accent-[var(--mark)]"
                      checked={at >= 0}
                      onChange={() =>
                        setLeft(at >= 0 ? [...left, s.id] : left.filter((id) => id !== s.id))
                      }
                    />
                    <span className="min-w-0 flex-1 truncate text-t2">{s.name}</span>
                    <span className="min-w-0 flex-1 truncate">
                      {at >= 0 ? (names.data?.[at] ?? '…') : 'stays'}
                    </span>
                  </label>
                </li>
              );
            })}
          </ul>
          {refused && (
            <p role="alert" className="mt-2 border-l-2 border-bad pl-2.5">
              {refused}
            </p>
          )}
          <div className="mt-4 flex gap-2">
            <Button main disabled={!names.data || ids.length === 0} onClick={() => void rename()}>
              Rename {ids.length === 1 ? '1 shot' : `${ids.length} shots`}
            </Button>
            <Button onClick={onClose}>Close</Button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
