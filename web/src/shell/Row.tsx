import type { ReactNode } from 'react';

/** A quiet row: name, value, and in faint type what the value means or costs. */
export function Row({
  name,
  children,
  hint,
}: {
  name: string;
  children: ReactNode;
  hint?: ReactNode;
}) {
  return (
    <div className="flex min-h-7 items-baseline gap-3 border-b border-line py-1">
      <span className="w-17 shrink-0 text-t2">{name}</span>
      <span className="min-w-0 flex-1">{children}</span>
      {hint && <span className="max-w-24 text-right text-xs text-t3">{hint}</span>}
    </div>
  );
}
