import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import { urlOf, type FilmLine } from '../api/client';
import { useFilms, useSayToFilm } from '../api/assembly';
import { Button } from '../shell/Button';
import { bytes, duration, rateText, version } from '../shell/format';
import { useSay } from '../shell/useSay';
import { Cut } from './Cut';
import { KINDS } from './FilmRows';

const STATES: Record<FilmLine['state'], string> = {
  RUNNING: 'being made',
  FINISHED: 'ready',
  FAILED: 'failed',
  CANCELLED: 'cancelled',
};

/** The films and sequences of the production. */
export function Films() {
  const films = useFilms();
  const [cutting, setCutting] = useState(false);
  return (
    <section aria-label="Films">
      <header className="mt-2 mb-1 flex items-baseline">
        <h2 className="flex-1 font-semibold">Films and sequences</h2>
        <button className="min-h-6 text-t2 hover:text-t1" onClick={() => setCutting(true)}>
          Cut of shots …
        </button>
      </header>
      {films?.length === 0 && <p className="text-t2">None yet.</p>}
      {films?.map((f) => (
        <Film key={f.id} film={f} />
      ))}
      {cutting && <Cut onClose={() => setCutting(false)} />}
    </section>
  );
}

const SINGLE = ['mp4', 'mov', 'loop', 'still'];

function Film({ film: f }: { film: FilmLine }) {
  const tellFilm = useSayToFilm();
  const say = useSay();
  const [playing, setPlaying] = useState(false);
  const single = SINGLE.includes(f.output.kind);
  const path = { id: f.id };
  const to = (word: 'cancel' | 'resume' | 'update' | 'remove') =>
    void say(tellFilm.mutateAsync({ id: f.id, word }), `film ${f.id}`);
  const word = (label: string, press: () => void) => (
    <button
      className="min-h-6 text-t2 hover:text-t1"
      aria-label={`${label} ${f.name} ${version(f.version)}`}
      onClick={press}
    >
      {label}
    </button>
  );
  const link = (href: string) => (
    <a className="min-h-6 leading-6 text-t2 hover:text-t1" href={href} download>
      Save
    </a>
  );
  const done = Math.min(f.frames, f.done);
  return (
    <div className="border-b border-line py-1.5" data-testid="film">
      <div className="flex items-baseline gap-2">
        <span className="min-w-0 flex-1 truncate" title={f.file}>
          {f.name} <span className="fig">{version(f.version)}</span>
        </span>
        <span className={f.state === 'FAILED' ? 'text-bad' : 'text-t2'}>{STATES[f.state]}</span>
      </div>
      <p className="text-xs text-t3">
        {KINDS[f.output.kind].name}, {f.width} × {f.height}, {rateText(f.rate)}
        {f.bytes > 0 && `, ${bytes(f.bytes)}`}
        {f.parts.length > 1 && `, ${f.parts.length} parts`}
      </p>
      {f.state === 'RUNNING' && (
        <p className="fig text-t1" data-testid="film-progress">
          {f.done < f.frames
            ? `${done} of ${f.frames} frames`
            : single
              ? 'the film of its frames'
              : 'the last files'}
          {f.secondsLeft !== null && f.done < f.frames && ` · ${duration(f.secondsLeft)} left`}
        </p>
      )}
      {f.state === 'RUNNING' && (
        <div className="my-1 h-0.5 bg-line">
          <div className="h-0.5 bg-t1" style={{ width: `${(100 * done) / f.frames}%` }} />
        </div>
      )}
      {f.failure && f.state === 'FAILED' && <p role="alert">{f.failure}</p>}
      {f.stale > 0 && (
        <p data-testid="film-stale">
          {f.stale} of {f.frames} frames stale: their inputs are others by now.
        </p>
      )}
      {f.said.length > 0 && (
        <details className="text-xs text-t2">
          <summary className="min-h-6 cursor-pointer leading-6">
            {f.said.length} {f.said.length === 1 ? 'thing' : 'things'} to know
          </summary>
          <ul>
            {f.said.map((s) => (
              <li key={s}>{s}</li>
            ))}
          </ul>
        </details>
      )}
      <div className="flex gap-3">
        {f.state === 'FINISHED' &&
          single &&
          f.output.kind !== 'mov' &&
          word('Show', () => setPlaying(true))}
        {f.state === 'FINISHED' &&
          (single
            ? link(urlOf('/api/films/{id}/file', { path, query: { save: true } }))
            : link(urlOf('/api/films/{id}/archive', { path })))}
        {f.state === 'FINISHED' && f.stale !== 0 && word('Bring up to date', () => to('update'))}
        {f.state === 'RUNNING' && word('Cancel', () => to('cancel'))}
        {(f.state === 'FAILED' || f.state === 'CANCELLED') && word('Go on', () => to('resume'))}
        {f.state !== 'RUNNING' && word('Remove', () => to('remove'))}
      </div>
      {playing && <Show film={f} onClose={() => setPlaying(false)} />}
    </div>
  );
}

function Show({ film: f, onClose }: { film: FilmLine; onClose: () => void }) {
  const src = urlOf('/api/films/{id}/file', { path: { id: f.id }, query: {} });
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/80" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="max-w-[90vw] bg-up p-4">
          <DialogTitle className="mb-2 font-semibold">
            {f.name} <span className="fig">{version(f.version)}</span>
          </DialogTitle>
          {f.output.kind === 'mp4' ? (
            <video
              src={src}
              controls
              autoPlay
              loop
              className="max-h-[75vh] min-w-160 bg-black"
              data-testid="film-player"
            />
          ) : (
            <img src={src} alt={`${f.name}, as it plays`} className="max-h-[75vh] bg-black" />
          )}
          <div className="mt-3 flex justify-end">
            <Button onClick={onClose}>Close</Button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
