import { useMakeFilm } from '../api/assembly';
import { version } from './format';
import { useTell } from './Notices';
import { useSay } from './useSay';

/** Letters of a film's name that there is room for. */
const LONGEST = 50;

/** Makes a film of footage as it is, in the queue of the batch. */
export function MakeFilm({
  name,
  title,
  footage,
}: {
  name: string;
  /** What a burn-in calls it. */
  title: string;
  footage: string;
}) {
  const make = useMakeFilm();
  const tell = useTell();
  const say = useSay();
  const press = () =>
    void say(
      make(name.slice(0, LONGEST), title, footage).then((f) =>
        tell(`Film ${f.name} ${version(f.version)} is being made; it is in Assembly.`),
      ),
      'film',
    );
  return (
    <button className="min-h-6 underline underline-offset-3 hover:text-t1" onClick={press}>
      Make a film of it
    </button>
  );
}
