import { useFilms, useSayToFilm } from '../api/assembly';
import { useGo } from '../shell/address';
import { duration, version } from '../shell/format';
import { useSay } from '../shell/useSay';

/** Films that take their turn in the same queue. */
export function FilmsInWork() {
  const films = useFilms()?.filter((f) => f.state === 'RUNNING') ?? [];
  const tell = useSayToFilm();
  const say = useSay();
  const go = useGo();
  if (films.length === 0) {
    return null;
  }
  return (
    <section aria-label="Films in work" className="mb-4">
      <h2 className="mb-1 font-semibold">Films in work</h2>
      {films.map((f) => (
        <div key={f.id} className="flex flex-wrap items-baseline gap-x-3 border-b border-line py-1">
          <button
            className="min-h-6 w-full truncate text-left hover:text-t2"
            onClick={() => go({ station: 'assembly' })}
          >
            {f.name} <span className="fig">{version(f.version)}</span>
          </button>
          <span className="fig flex-1 text-t2">
            {Math.min(f.done, f.frames)} of {f.frames} frames
            {f.secondsLeft !== null && ` · ${duration(f.secondsLeft)} left`}
          </span>
          <button
            className="min-h-6 text-t2 hover:text-t1"
            aria-label={`Cancel film ${f.name}`}
            onClick={() => void say(tell.mutateAsync({ id: f.id, word: 'cancel' }), `film ${f.id}`)}
          >
            Cancel
          </button>
        </div>
      ))}
    </section>
  );
}
