import { useSyncExternalStore } from 'react';

const KEY = 'posada-name';
const heard = new Set<() => void>();
let who = localStorage.getItem(KEY) ?? '';

function put(name: string) {
  who = name;
  if (name.trim()) {
    localStorage.setItem(KEY, name.trim());
  } else {
    localStorage.removeItem(KEY);
  }
  heard.forEach((h) => h());
}

const listen = (h: () => void) => {
  heard.add(h);
  return () => void heard.delete(h);
};

/** Who is at the screen, for notes and decisions; kept in the browser. */
export const useWho = (): [string, (name: string) => void] => [
  useSyncExternalStore(listen, () => who),
  put,
];
