import type { ReactNode } from 'react';

/** A quiet row: name, value, and in faint type what the value means or costs. */
export function Row({
  name,
  children,
  hint,
  note,
}: {
  name: string;
  children: ReactNode;
  hint?: ReactNode;
  /** A line of its own below. */
  note?: ReactNode;
}) {
  return (
    <div className="flex min-h-7 flex-wrap items-baseline gap-x-3 border-b border-line py-1">
      <span className="w-17 shrink-0 text-t2">{name}</span>
      <span className="min-w-0 flex-1">{children}</span>
      {hint && <span className="max-w-24 text-right text-xs text-t3">{hint}</span>}
      {note && <span className="w-full pl-20 text-xs text-t3">{note}</span>}
    </div>
  );
}
