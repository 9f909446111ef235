import { useCallback } from 'react';
import { useNotices } from './Notices';

/** Waits for a change; why it is refused is said in a notice about it, and returned. */
export function useSay() {
  const { tell, mended } = useNotices();
  return useCallback(
    async (changed: Promise<unknown>, about: string): Promise<string | undefined> => {
      try {
        await changed;
        mended(about);
        return undefined;
      } catch (e) {
        const why = (e as Error).message;
        tell(why, { bad: true, about });
        return why;
      }
    },
    [tell, mended],
  );
}
