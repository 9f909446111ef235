import type { ReactNode } from 'react';

/** What stands beside a picture: it scrolls where it is long, but what can be done stays in view. */
export function Panel({
  label,
  actions,
  children,
}: {
  label: string;
  actions?: ReactNode;
  children: ReactNode;
}) {
  return (
    <aside aria-label={label} className="flex min-h-0 flex-1 flex-col border-l border-line">
      <div className="min-h-0 flex-1 overflow-auto px-4.5 py-3.5">{children}</div>
      {actions && (
        <div className="flex flex-wrap gap-2 border-t border-line px-4.5 py-3.5">{actions}</div>
      )}
    </aside>
  );
}
