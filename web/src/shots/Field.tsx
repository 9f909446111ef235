import { useEffect, useState } from 'react';
import type { Shot } from '../api/client';
import { useNotices } from '../shell/Notices';
import { useSession, type Refusal } from '../shell/Session';

/** Changes parts of a shot; if they are refused says why, in a notice `about` it too. */
export type Put = (part: Partial<Shot>, about?: string) => Promise<string | undefined>;

/**
 * A value that is edited in place: taken with Enter or on leaving, dropped with Escape. What is
 * refused stays as it was typed, marked, until it is mended or dropped, also while another shot is
 * looked at.
 */
export function Field({
  shot,
  label,
  value,
  part,
  put,
  className = '',
}: {
  shot: Shot;
  label: string;
  value: string;
  /** What of the shot a value stands for. */
  part: (v: string) => Partial<Shot>;
  put: Put;
  className?: string;
}) {
  const { refusals } = useSession();
  const key = `${shot.id} ${label}`;
  const [before] = useState(refusals.get(key));
  const [refused, setRefused] = useState(before);
  const [typed, setTyped] = useState(before?.text);
  const { tell, mended } = useNotices();
  const mark = (r: Refusal | undefined) => {
    setRefused(r);
    if (r) {
      refusals.set(key, r);
    } else {
      refusals.delete(key);
    }
  };
  const bad = refused !== undefined && typed === refused.text;
  const drop = () => {
    setTyped(undefined);
    mark(undefined);
  };
  if (refused && value !== refused.at && value !== refused.text.trim()) {
    drop(); // It was changed from elsewhere.
  }
  // However a refusal ends, its notice ends with it; it comes back with the shot.
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
    mark(undefined);
    const t = typed.trim();
    const why = t === '' || t === value ? undefined : await put(part(t), label);
    if (why === undefined) {
      // Unless something else was typed meanwhile.
      setTyped((now) => (now === typed ? undefined : now));
    } else {
      mark({ text: typed, at: value, why });
    }
  };
  return (
    <input
      aria-label={label}
      aria-invalid={bad}
      title={bad ? 'Refused; Escape brings the old value back' : undefined}
      className={`-mx-1 rounded-sm border bg-transparent px-1 focus:outline-none ${bad ? 'border-dashed border-bad' : 'border-transparent hover:border-line focus:border-t2'} ${className}`}
      value={typed ?? value}
      spellCheck={false}
      onChange={(e) => setTyped(e.target.value)}
      onBlur={() => void take()}
      onKeyDown={(e) => {
        if (e.key === 'Enter') {
          e.currentTarget.blur();
        }
        if (e.key === 'Escape') {
          drop();
        }
      }}
    />
  );
}
