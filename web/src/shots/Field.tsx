import { useEffect, useState } from 'react';
import type { Shot } from '../api/client';
import { useNotices } from '../shell/Notices';

/** Changes parts of a shot; answers whether they were taken, and if not says why in a notice `about` it. */
export type Put = (part: Partial<Shot>, about?: string) => Promise<boolean>;

/**
 * A value that is edited in place: taken with Enter or on leaving, dropped with Escape. What is
 * refused stays as it was typed, marked, until it is mended or dropped.
 */
export function Field({
  label,
  value,
  part,
  put,
  className = '',
}: {
  label: string;
  value: string;
  /** What of the shot a value stands for. */
  part: (v: string) => Partial<Shot>;
  put: Put;
  className?: string;
}) {
  const [typed, setTyped] = useState<string>();
  /** What was refused, and what the value was then. */
  const [refused, setRefused] = useState<{ text: string; at: string }>();
  const { mended } = useNotices();
  const bad = refused !== undefined && typed === refused.text;
  const drop = () => {
    setTyped(undefined);
    setRefused(undefined);
  };
  if (refused && value !== refused.at && value !== refused.text.trim()) {
    drop(); // It was changed from elsewhere.
  }
  // However a refusal ends, its notice ends with it.
  useEffect(() => (refused ? () => mended(label) : undefined), [refused, mended, label]);
  const take = async () => {
    if (typed === undefined || bad) {
      return;
    }
    setRefused(undefined);
    const t = typed.trim();
    if (t === '' || t === value || (await put(part(t), label))) {
      // Unless something else was typed meanwhile.
      setTyped((now) => (now === typed ? undefined : now));
    } else {
      setRefused({ text: typed, at: value });
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
