import { useState } from 'react';

/** A value that is edited in place: taken with Enter or on leaving, dropped with Escape. */
export function Field({
  label,
  value,
  onChange,
  className = '',
}: {
  label: string;
  value: string;
  onChange: (v: string) => void;
  className?: string;
}) {
  const [text, setText] = useState(value);
  const take = () => {
    const t = text.trim();
    if (t === '') {
      setText(value);
    } else if (t !== value) {
      onChange(t);
    }
  };
  return (
    <input
      aria-label={label}
      className={`-mx-1 rounded-sm border border-transparent bg-transparent px-1 hover:border-line focus:border-t2 focus:outline-none ${className}`}
      value={text}
      spellCheck={false}
      onChange={(e) => setText(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        if (e.key === 'Enter') {
          e.currentTarget.blur();
        }
        if (e.key === 'Escape') {
          setText(value);
        }
      }}
    />
  );
}
