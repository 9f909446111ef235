import { useState } from 'react';
import { hasKeyAt, keyCount, numberAt, text, toggledKey, withValue, type Num } from './stack';

/** A number that is dragged or typed, and may have keys. */
export function KeyedNumber({
  label,
  value,
  least,
  most,
  step,
  unit = '',
  time,
  onChange,
}: {
  label: string;
  value: Num;
  /** Where the slider ends; what is typed may lie beyond. */
  least: number;
  most: number;
  step: number;
  unit?: string;
  /** Of the playhead, seconds. */
  time: number;
  /** Hears each value; `done` is false while it is dragged. */
  onChange: (v: Num, done: boolean) => void;
}) {
  const now = numberAt(value, time);
  const [typed, setTyped] = useState<string>();
  const keys = keyCount(value);
  const here = hasKeyAt(value, time);
  const shown = text(now, step);
  const take = () => {
    const n = Number(typed?.replace(',', '.'));
    if (typed !== undefined && typed.trim() !== '' && Number.isFinite(n) && typed !== shown) {
      onChange(withValue(value, time, n), true);
    }
    setTyped(undefined);
  };
  return (
    <span className="flex items-center gap-2">
      <input
        aria-label={label}
        className="fig w-13 rounded-sm border border-transparent bg-transparent text-t1 hover:border-line focus:border-t2 focus:outline-none"
        value={typed ?? shown}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={take}
        onKeyDown={(e) => {
          if (e.key === 'Enter') {
            e.currentTarget.blur();
          }
          if (e.key === 'Escape') {
            setTyped(undefined);
          }
        }}
      />
      <input
        type="range"
        aria-label={`${label}, slider`}
        className="slim min-w-0 flex-1"
        min={least}
        max={most}
        step={step}
        value={Math.min(most, Math.max(least, now))}
        onChange={(e) => onChange(withValue(value, time, Number(e.target.value)), false)}
        onPointerUp={(e) => onChange(withValue(value, time, Number(e.currentTarget.value)), true)}
        onKeyUp={(e) => onChange(withValue(value, time, Number(e.currentTarget.value)), true)}
      />
      {unit && (
        <span className="w-9 truncate text-xs text-t3" title={unit}>
          {unit}
        </span>
      )}
      <button
        aria-label={`Key of ${label} at this frame`}
        aria-pressed={here}
        title={keys ? `${keys} ${keys === 1 ? 'key' : 'keys'}` : 'Set a key here'}
        className={`fig min-h-6 min-w-6 ${keys ? 'text-t1' : 'text-t3 hover:text-t1'}`}
        onClick={() => onChange(toggledKey(value, time), true)}
      >
        {here ? '◆' : '◇'}
        {keys > 0 && <span className="ml-0.5">{keys}</span>}
      </button>
    </span>
  );
}
