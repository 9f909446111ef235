import { useEffect, useState } from 'react';
import { useNotices } from './Notices';
import { useRefusals } from './Refusals';

/** Changes parts of something; if they are refused says why, in a notice `about` it too. */
export type Put<P> = (part: P, about?: string) => Promise<string | undefined>;

/**
 * A value that is edited in place: taken with Enter or on leaving, dropped with Escape. What is
 * refused stays as it was typed, marked, until it is mended or dropped, also while something else
 * is looked at.
 */
export function Field<P>({
  owner,
  label,
  value,
  part,
  put,
  className = '',
}: {
  /** What the value is of, such as `shot 7`. */
  owner: string;
  label: string;
  value: string;
  /** What a value stands for. */
  part: (v: string) => P;
  put: Put<P>;
  className?: string;
}) {
  const { refusals, refuse } = useRefusals();
  const key = `${owner} ${label}`;
  const held = refusals.get(key);
  const elsewhere = held !== undefined && value !== held.at && value !== held.text.trim();
  const refused = elsewhere ? undefined : held;
  const [before] = useState(refused);
  const [typed, setTyped] = useState<string>();
  const { tell, mended } = useNotices();
  const shown = typed ?? refused?.text ?? value;
  const bad = shown === refused?.text;
  useEffect(() => {
    if (elsewhere) {
      refuse(key, undefined);
    }
  }, [elsewhere, refuse, key]);
  // However a refusal ends, its notice ends with it; it comes back with its owner.
  useEffect(() => (refused ? () => mended(label) : undefined), [refused, mended, label]);
  useEffect(() => {
    if (before && before === refused) {
      tell(before.why, { bad: true, about: label });
    }
  }, [before, refused, tell, label]);
  const take = async () => {
    if (typed === undefined || bad) {
      return;
    }
    refuse(key, undefined);
    const t = typed.trim();
    const why = t === '' || t === value ? undefined : await put(part(t), label);
    if (why !== undefined) {
      refuse(key, { text: typed, at: value, why });
    }
    // Unless something else was typed meanwhile.
    setTyped((now) => (now === typed ? undefined : now));
  };
  return (
    <input
      aria-label={label}
      aria-invalid={bad}
      title={bad ? 'Refused; Escape brings the old value back' : undefined}
      className={`-mx-1 rounded-sm border bg-transparent px-1 focus:outline-none ${bad ? 'border-dashed border-bad' : 'border-transparent hover:border-line focus:border-t2'} ${className}`}
      value={shown}
      spellCheck={false}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={() => void take()}
      onKeyDown={(e) => {
        if (e.key === 'Enter') {
          e.currentTarget.blur();
        }
        if (e.key === 'Escape') {
          setTyped(undefined);
          refuse(key, undefined);
        }
      }}
    />
  );
}
