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

/** The button that was pressed last by the pointer. */
let clicked: Element | null = null;
window.addEventListener('pointerdown', (e) => {
  clicked = (e.target as Element).closest?.('button, a') ?? null;
});

/** Calls a handler for keys pressed anywhere but in a field; it returns true if it used the key. */
export function useKeys(handle: (e: KeyboardEvent) => boolean | undefined) {
  useKeyDown((e) => {
    const t = e.target as HTMLElement;
    // A button that was reached by keyboard is pressed by these; one that was clicked is done with.
    const button = t.closest?.('button, a');
    const pressed = button && button !== clicked && (e.key === ' ' || e.key === 'Enter');
    const field = t.closest?.(FIELDS) || pressed;
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
