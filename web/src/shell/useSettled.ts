import { useEffect, useState } from 'react';

/** A value once it has stayed the same for a while, so that not every step of a move is asked for. */
export function useSettled<T>(value: T, ms = 250): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const wait = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(wait);
  }, [value, ms]);
  return settled;
}
