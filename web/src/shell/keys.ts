import { useEffect, useRef } from 'react';

/** Calls a handler for keys pressed anywhere but in a field; it returns true if it used the key. */
export function useKeys(handle: (e: KeyboardEvent) => boolean | undefined) {
  const latest = useRef(handle);
  useEffect(() => {
    latest.current = handle;
  });
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      const t = e.target as HTMLElement;
      const field =
        t.closest('input, textarea, [role=listbox], [role=dialog]') ||
        (t.closest('button, a') && (e.key === ' ' || e.key === 'Enter'));
      if (!field && !e.ctrlKey && !e.metaKey && !e.altKey && latest.current(e)) {
        e.preventDefault();
      }
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}
