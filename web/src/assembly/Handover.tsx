import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import { urlOf, type Handed } from '../api/client';
import {
  useCheckHandover,
  useHandOver,
  useHandoverOffers,
  useHandovers,
  useSayToHandover,
} from '../api/assembly';
import { useProduction } from '../api/queries';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { bytes, percent } from '../shell/format';
import { useSay } from '../shell/useSay';

type How = 'zip' | 'copy' | 'refer';

const HOWS: { value: How; label: string }[] = [
  { value: 'zip', label: 'a zip to download' },
  { value: 'copy', label: 'a folder with copies of the files' },
  { value: 'refer', label: 'a folder that says where the files lie' },
];

/** What is passed on to the next person. */
export function Handover({ onClose }: { onClose: () => void }) {
  const offers = useHandoverOffers().data;
  const production = useProduction().data?.id;
  const start = useHandOver();
  const [left, setLeft] = useState<string[]>([]);
  const [how, setHow] = useState<How>('zip');
  const [path, setPath] = useState('');
  const chosen = offers?.filter((o) => !left.includes(o.key)) ?? [];
  const warned = chosen.filter((o) => o.warnings.length > 0);
  const size = chosen.reduce((n, o) => n + o.bytes, 0);
  const hand = () =>
    start.mutate({
      productionId: production!,
      keys: chosen.map((o) => o.key),
      path: how === 'zip' ? null : path,
      copy: how === 'copy',
    });
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="max-h-[86vh] w-170 overflow-auto rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-1 font-semibold">Hand over</DialogTitle>
          <p className="mb-3 text-t2">
            The files with a manifest (size, passes, units, colour, SHA-256), the cut as a timeline,
            the stacks, a contact sheet, what was checked and decided, and a read-me in words.
          </p>
          {offers?.length === 0 && <p>Nothing has been rendered yet.</p>}
          <ul aria-label="What is handed over">
            {offers?.map((o) => (
              <li key={o.key} className="border-b border-line py-1.5">
                <label className="flex items-baseline gap-3">
                  <input
                    type="checkbox"
                    checked={!left.includes(o.key)}
                    onChange={(e) =>
                      setLeft(e.target.checked ? left.filter((k) => k !== o.key) : [...left, o.key])
                    }
                  />
                  <span className="min-w-0 flex-1 truncate">
                    {o.title}
                    <span className="ml-2 text-t3">
                      {o.isFilm ? o.what : `${o.frames} frames, ${o.what}`}
                    </span>
                  </span>
                  <span className="fig text-t2">{o.bytes > 0 ? bytes(o.bytes) : ''}</span>
                </label>
                {o.warnings.length > 0 && !left.includes(o.key) && (
                  <p className="flex gap-2 pl-6 text-xs">
                    <svg width="10" height="10" className="mt-1 shrink-0" aria-hidden="true">
                      <path d="M5 0l5 9H0z" fill="none" stroke="var(--t1)" />
                    </svg>
                    {o.warnings.join(', ')}
                  </p>
                )}
              </li>
            ))}
          </ul>
          <div className="mt-4 flex items-baseline gap-4">
            <span className="text-t2">As</span>
            <Choice label="As" value={how} options={HOWS} onChange={setHow} />
            <span className="fig ml-auto text-t2">{bytes(size)}</span>
          </div>
          {how !== 'zip' && (
            <input
              aria-label="Folder"
              placeholder="Folder on the server’s machine, empty or not there yet"
              className="fig mt-2 w-full border-b border-t3 bg-transparent py-1.5 focus:border-t1 focus:outline-none"
              value={path}
              spellCheck={false}
              onChange={(e) => setPath(e.target.value)}
            />
          )}
          {warned.length > 0 && (
            <p className="mt-3" data-testid="before">
              Before it is written:{' '}
              {warned.map((o) => `${o.title}: ${o.warnings.join(', ')}`).join('; ')}. It will say
              so.
            </p>
          )}
          {start.error && (
            <p role="alert" className="mt-3">
              <b className="mr-2 text-bad">Not handed over.</b>
              {start.error.message}
            </p>
          )}
          <div className="mt-4 flex gap-2.5">
            <Button
              main
              onClick={hand}
              disabled={chosen.length === 0 || start.isPending || (how !== 'zip' && !path.trim())}
            >
              {warned.length > 0 ? 'Hand over all the same' : 'Hand over'}
            </Button>
            <Button onClick={onClose}>Close</Button>
          </div>
          <Earlier />
        </DialogPanel>
      </div>
    </Dialog>
  );
}

const STATES: Record<Handed['state'], string> = {
  RUNNING: 'being written',
  FINISHED: 'written',
  FAILED: 'failed',
  CANCELLED: 'cancelled',
};

function Earlier() {
  const all = useHandovers();
  if (!all?.length) {
    return null;
  }
  return (
    <section aria-label="Handed over">
      <h2 className="mt-5 mb-1 font-semibold">Handed over</h2>
      {all.map((h) => (
        <Line key={h.id} handed={h} />
      ))}
    </section>
  );
}

function Line({ handed: h }: { handed: Handed }) {
  const tell = useSayToHandover();
  const check = useCheckHandover();
  const say = useSay();
  const to = (word: 'cancel' | 'remove') =>
    void say(tell.mutateAsync({ id: h.id, word }), `handover ${h.id}`);
  const word = (label: string, press: () => void) => (
    <button className="min-h-6 text-t2 hover:text-t1" onClick={press}>
      {label}
    </button>
  );
  return (
    <div className="border-b border-line py-1.5" data-testid="handed">
      <div className="flex items-baseline gap-3">
        <span className="fig min-w-0 flex-1 truncate" title={h.path}>
          {h.path.split(/[\\/]/).at(-1)}
        </span>
        <span className="text-t2">
          {h.state === 'RUNNING' ? percent(h.done) : STATES[h.state]}
          {h.state === 'FINISHED' && `, ${h.files} files, ${bytes(h.bytes)}`}
        </span>
      </div>
      {h.failure && <p role="alert">{h.failure}</p>}
      {check.data && (
        <div data-testid="handover-check">
          {check.data.problems.length === 0 ? (
            <p>
              Everything is there and whole: {check.data.files} files, {bytes(check.data.bytes)}.
            </p>
          ) : (
            check.data.problems.map((p) => <p key={p}>{p}</p>)
          )}
        </div>
      )}
      {check.error && <p role="alert">{check.error.message}</p>}
      <div className="flex gap-4">
        {h.state === 'FINISHED' && h.zip && (
          <a
            className="min-h-6 leading-6 text-t2 hover:text-t1"
            href={urlOf('/api/handovers/{id}/zip', { path: { id: h.id } })}
            download
          >
            Download
          </a>
        )}
        {h.state === 'FINISHED' && !h.zip && word('Check', () => check.mutate(h.id))}
        {h.state === 'RUNNING'
          ? word('Cancel', () => to('cancel'))
          : word('Remove from the list', () => to('remove'))}
      </div>
    </div>
  );
}
