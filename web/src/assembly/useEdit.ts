import { useCallback, useEffect, useRef, useState } from 'react';
import type { Stack } from '../api/client';
import { useChangeStack, type StackDefinition } from '../api/assembly';
import { useSay } from '../shell/useSay';

/** Changes a stack; with `done` false it is only looked at, until the hand lets go. */
export type Edit = (change: (s: Stack) => Stack, done?: boolean) => void;

/** A stack as it is worked on: changes are seen at once and sent when they are done. */
export function useEdit(d: StackDefinition): { stack: Stack; edit: Edit; moving: boolean } {
  const [draft, setDraft] = useState<Stack>();
  const change = useChangeStack();
  const say = useSay();
  const stack = draft ?? d.document;
  const latest = useRef(stack);
  useEffect(() => {
    latest.current = stack;
  });
  const { mutateAsync } = change;
  const edit = useCallback<Edit>(
    (f, done = true) => {
      const next = f(latest.current);
      latest.current = next;
      if (!done) {
        setDraft(next);
        return;
      }
      setDraft(undefined);
      if (JSON.stringify(next) !== JSON.stringify(d.document)) {
        void say(mutateAsync({ id: d.id, part: next }), `stack ${d.id}`);
      }
    },
    [d.id, d.document, mutateAsync, say],
  );
  return { stack, edit, moving: draft !== undefined };
}
