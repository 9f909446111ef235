import { useEffect, useRef } from 'react';

const FIELDS = 'input, textarea, [role=listbox], [role=menu], [role=dialog]';

/** Hears every key for as long as it is mounted; the handler returns true if it used the key. */
function useKeyDown(handle: (e: KeyboardEvent) => boolean | undefined) {
  const latest = useRef(handle);
  useEffect(() => {
    latest.current = handle;
  });
  useEffect(() => {
    const press = (e: KeyboardEvent) => {
      if (latest.current(e)) {
        e.preventDefault();
      }
    };
    window.addEventListener('keydown', press);
    return () => window.removeEventListener('keydown', press);
  }, []);
}

/** Calls a handler for keys pressed anywhere but in a field; it returns true if it used the key. */
export function useKeys(handle: (e: KeyboardEvent) => boolean | undefined) {
  useKeyDown((e) => {
    const t = e.target as HTMLElement;
    const field =
      t.closest?.(FIELDS) || (t.closest?.('button, a') && (e.key === ' ' || e.key === 'Enter'));
    return !field && !e.ctrlKey && !e.metaKey && !e.altKey && handle(e);
  });
}

/** Calls handlers for keys pressed with Ctrl; a text field keeps those that it has itself. */
export function useChords(handlers: Record<string, () => void>) {
  useKeyDown((e) => {
    if (!(e.ctrlKey || e.metaKey) || e.altKey) {
      return false;
    }
    const key = e.key.toLowerCase();
    const handler = handlers[e.shiftKey ? `shift+${key}` : key];
    const typing = (e.target as HTMLElement).closest?.('input, textarea');
    if (!handler || (typing && key === 'z')) {
      return false;
    }
    handler();
    return true;
  });
}
