import { useState } from 'react';
import type { Shot } from '../api/client';
import { useNotices } from '../shell/Notices';

/** What notices about a shot's settings are about. */
export const SETTINGS = 'settings';

/** Changes parts of a shot; answers whether they were taken. */
export type Put = (part: Partial<Shot>) => Promise<boolean>;

/**
 * A value that is edited in place: taken with Enter or on leaving, dropped with Escape. What is
 * refused stays as it was typed, marked, until it is mended or dropped.
 */
export function Field({
  label,
  value,
  onChange,
  className = '',
}: {
  label: string;
  value: string;
  /** Takes a value; answers false if it is refused. */
  onChange: (v: string) => Promise<boolean>;
  className?: string;
}) {
  const [typed, setTyped] = useState<string>();
  const [refused, setRefused] = useState<string>();
  const bad = typed !== undefined && typed === refused;
  const { mended } = useNotices();
  const drop = () => {
    setTyped(undefined);
    setRefused(undefined);
    if (bad) {
      mended(SETTINGS);
    }
  };
  const take = async () => {
    if (typed === undefined || bad) {
      return;
    }
    const t = typed.trim();
    const taken = t === '' || t === value || (await onChange(t));
    setRefused(taken ? undefined : typed);
    if (taken) {
      // Unless something else was typed meanwhile.
      setTyped((now) => (now === typed ? undefined : now));
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
