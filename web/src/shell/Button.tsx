import type { ButtonHTMLAttributes } from 'react';

/** The main action of a panel is filled; all others are outlined. */
export function Button({
  main = false,
  className = '',
  ...rest
}: { main?: boolean } & ButtonHTMLAttributes<HTMLButtonElement>) {
  const look = main
    ? 'bg-mark font-semibold text-onmark disabled:bg-up2 disabled:text-t3'
    : 'border border-line font-medium text-t1 hover:border-t3 disabled:text-t3';
  return (
    <button
      type="button"
      className={`rounded-sm px-4 py-1.5 whitespace-nowrap ${look} ${className}`}
      {...rest}
    />
  );
}
