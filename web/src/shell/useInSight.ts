import { useEffect, useRef } from 'react';

/** A ref for a list whose current entry is scrolled into sight whenever it becomes another. */
export function useInSight<T extends HTMLElement>(current: unknown) {
  const list = useRef<T>(null);
  useEffect(() => {
    list.current?.querySelector('[aria-current="true"]')?.scrollIntoView({ block: 'nearest' });
  }, [current]);
  return list;
}
