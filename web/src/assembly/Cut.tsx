import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import type { NewFilm, Shot } from '../api/client';
import { useOffered, useStacks, useStartFilm, useUsual } from '../api/assembly';
import { useProduction, useShots } from '../api/queries';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { useTell } from '../shell/Notices';
import { ends } from './range';

type Part = { what: string; first: number; last: number };

/** All shots in order, each with what is shown of it and from where to where, as one film. */
export function Cut({ onClose }: { onClose: () => void }) {
  const shots = useShots().data ?? [];
  const stacks = useStacks() ?? [];
  const offered = useOffered() ?? [];
  const usual = useUsual();
  const production = useProduction().data;
  const start = useStartFilm();
  const tell = useTell();
  const [said, setSaid] = useState<Record<number, Partial<Part>>>({});
  const [name, setName] = useState('cut');
  const choices = (s: Shot) => {
    const prefix = `shot-${s.id}.`;
    return [
      ...stacks
        .filter((d) => d.document.inputs.some((i) => i.source.footage?.startsWith(prefix)))
        .map((d) => ({
          value: `stack-${d.id}`,
          label: `stack ${d.name}`,
          frames: d.document.frames,
        })),
      ...offered
        .filter((o) => o.footage.startsWith(prefix))
        .map((o) => ({ value: o.footage, label: `layer ${o.layer}`, frames: o.frames })),
    ];
  };
  const parts = shots.flatMap((s) => {
    const all = choices(s);
    if (all.length === 0) {
      return [];
    }
    const own = said[s.id] ?? {};
    const what = own.what ?? all[0]!.value;
    const frames = all.find((c) => c.value === what)?.frames ?? s.frames;
    const [first, last] = ends(frames);
    return [{ shot: s, all, what, frames, first: own.first ?? first, last: own.last ?? last }];
  });
  const on = parts.filter((p) => p.what !== 'none');
  const put = (shot: number, part: Partial<Part>) =>
    setSaid({ ...said, [shot]: { ...said[shot], ...part } });
  const render = () => {
    const segments: NewFilm['segments'] = on.map((p) => ({
      title: p.shot.name,
      stackId: p.what.startsWith('stack-') ? Number(p.what.slice(6)) : null,
      footage: p.what.startsWith('stack-') ? null : p.what,
      frames: `${p.first}-${p.last}`,
    }));
    start
      .mutateAsync({
        productionId: production!.id,
        name,
        width: production!.width,
        height: production!.height,
        segments,
        output: usual!.output,
      })
      .then(
        (f) => {
          tell(`Film ${f.name} is being made: ${f.frames} frames.`);
          onClose();
        },
        () => undefined, // Said below.
      );
  };
  const number = (shot: number, label: string, value: number, key: 'first' | 'last') => (
    <input
      aria-label={label}
      className="fig w-12 border-b border-line bg-transparent text-right focus:border-t2 focus:outline-none"
      value={value}
      onChange={(e) => put(shot, { [key]: Number(e.target.value.replace(/\D/g, '')) })}
    />
  );
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="max-h-[80vh] w-150 overflow-auto rounded-sm border border-line bg-up p-6">
          <DialogTitle className="mb-1 font-semibold">Cut of shots</DialogTitle>
          <p className="mb-3 text-t2">
            In the order of the shots, one film. Shots of which nothing was rendered are left out.
          </p>
          {parts.length === 0 && <p>Nothing has been rendered yet.</p>}
          {parts.map((p) => (
            <div key={p.shot.id} className="flex items-baseline gap-4 border-b border-line py-1.5">
              <span className="w-32 truncate font-semibold">{p.shot.name}</span>
              <span className="min-w-0 flex-1">
                <Choice
                  label={`What of ${p.shot.name}`}
                  value={p.what}
                  options={[...p.all, { value: 'none', label: 'left out' }]}
                  onChange={(what) => put(p.shot.id, { what, first: undefined, last: undefined })}
                />
              </span>
              <span className="text-t2">
                {number(p.shot.id, `First frame of ${p.shot.name}`, p.first, 'first')} to{' '}
                {number(p.shot.id, `Last frame of ${p.shot.name}`, p.last, 'last')}
              </span>
            </div>
          ))}
          {start.error && (
            <p role="alert" className="mt-3">
              <b className="mr-2 text-bad">Not started.</b>
              {start.error.message}
            </p>
          )}
          <div className="mt-4 flex items-baseline gap-3">
            <label className="flex items-baseline gap-2 text-t2">
              Name
              <input
                className="w-32 border-b border-line bg-transparent text-t1 focus:border-t2 focus:outline-none"
                value={name}
                onChange={(e) => setName(e.target.value)}
              />
            </label>
            <span className="fig flex-1 text-t2">
              {on.reduce((n, p) => n + Math.max(0, p.last - p.first + 1), 0)} frames
            </span>
            <Button main onClick={render} disabled={on.length === 0 || !usual || start.isPending}>
              Render the cut
            </Button>
            <Button onClick={onClose}>Cancel</Button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
