import { useEffect, useRef, useState } from 'react';
import { useNotices } from './Notices';
import { useRefusals } from './Refusals';

/** Changes parts of something; if they are refused says why, in a notice `about` it too. */
export type Put<P> = (part: P, about?: string) => Promise<string | undefined>;

const movedText = (label: string, value: string) =>
  `${label} was changed to "${value}" in another window while you typed. Enter takes yours, Escape theirs.`;

/**
 * A value that is edited in place: taken with Enter or on leaving, dropped with Escape. What is
 * refused stays as it was typed, marked, until it is mended or dropped, also while something else
 * is looked at. So does what was typed while another window changed the value: then Enter decides.
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
  /** The value when typing began, and what was sent since: values that are no one else's. */
  const [own, setOwn] = useState([value]);
  const [sending, setSending] = useState(false);
  const moved = typed !== undefined && !sending && ![...own, typed.trim()].includes(value);
  /** True if it was taken with Enter. */
  const sure = useRef(false);
  const { tell, mended } = useNotices();
  const shown = typed ?? refused?.text ?? value;
  const bad = shown === refused?.text || moved;
  useEffect(() => {
    if (elsewhere) {
      refuse(key, undefined);
    }
  }, [elsewhere, refuse, key]);
  // However a refusal ends, its notice ends with it; it comes back with its owner.
  useEffect(() => (refused ? () => mended(label) : undefined), [refused, mended, label]);
  useEffect(() => {
    if (moved) {
      tell(movedText(label, value), { bad: true, about: label });
      return () => mended(label);
    }
  }, [moved, value, label, tell, mended]);
  useEffect(() => {
    if (before && before === refused) {
      tell(before.why, { bad: true, about: label });
    }
  }, [before, refused, tell, label]);
  const take = async () => {
    const certain = sure.current;
    sure.current = false;
    // What was refused is tried again only if that is asked for.
    const text = typed === refused?.text ? undefined : typed;
    const taken = text ?? (certain ? refused?.text : undefined);
    if (taken === undefined) {
      return;
    }
    if (moved && !certain) {
      refuse(key, { text: taken, at: value, why: movedText(label, value) });
      setTyped(undefined);
      return;
    }
    refuse(key, undefined);
    const t = taken.trim();
    setSending(true);
    setOwn((all) => [...all, t]);
    const why = t === '' || t === value ? undefined : await put(part(t), label);
    setSending(false);
    if (why !== undefined) {
      refuse(key, { text: taken, at: value, why });
    }
    // Unless something else was typed meanwhile.
    setTyped((now) => (now === typed ? undefined : now));
  };
  return (
    <input
      aria-label={label}
      aria-invalid={bad}
      title={bad ? 'Not taken; Escape brings the old value back' : undefined}
      className={`-mx-1 rounded-sm border bg-transparent px-1 focus:outline-none ${bad ? 'border-dashed border-bad' : 'border-transparent hover:border-line focus:border-t2'} ${className}`}
      value={shown}
      spellCheck={false}
      onChange={(e) => {
        if (typed === undefined) {
          setOwn([value]);
        }
        setTyped(e.target.value);
      }}
      onBlur={() => void take()}
      onKeyDown={(e) => {
        if (e.key === 'Enter') {
          sure.current = true;
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
