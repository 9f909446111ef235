import { useEffect, useRef, useState } from 'react';
import { useRunStrands } from '../api/queries';
import { batchState } from './batch';

const KEY = 'posada.tell';

const allowed = () =>
  typeof Notification !== 'undefined' &&
  Notification.permission === 'granted' &&
  localStorage.getItem(KEY) === 'on';

/** Whether the browser is to say when a run ends, and how that is changed. */
export function useTellingWhenDone(): [boolean, () => Promise<void>] {
  const [on, setOn] = useState(allowed);
  return [
    on,
    async () => {
      if (!on && typeof Notification !== 'undefined') {
        await Notification.requestPermission();
      }
      localStorage.setItem(KEY, on ? 'off' : 'on');
      setOn(allowed());
    },
  ];
}

const SAID = {
  DONE: 'is done',
  FAILED: 'needs you: frames failed',
} as Partial<Record<NonNullable<ReturnType<typeof batchState>>, string>>;

/** Has the browser say when a run of the open production ends or needs someone, if it may. */
export function useRunNotifications() {
  const runs = useRunStrands().data;
  const before = useRef(new Map<number, string>());
  useEffect(() => {
    const now = new Map<number, string>();
    for (const number of new Set(runs?.map((r) => r.run))) {
      const state = batchState(runs!.filter((r) => r.run === number))!;
      now.set(number, state);
      const was = before.current.get(number);
      const text = SAID[state];
      if (text && (was === 'RUNNING' || was === 'PAUSED') && allowed()) {
        new Notification(`Run ${number} ${text}`);
      }
    }
    before.current = now;
  }, [runs]);
}
