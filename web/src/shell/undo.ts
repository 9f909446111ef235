import { useCallback } from 'react';
import { useProduction, useStep } from '../api/queries';
import { useTell } from './Notices';

/**
 * Undoes or redoes what this window changed last, and says what that was, even if what asked for it
 * is no longer on the screen.
 */
export function useUndo(): (way: 'undo' | 'redo') => void {
  const production = useProduction().data?.id;
  const { mutateAsync } = useStep();
  const tell = useTell();
  return useCallback(
    (way) =>
      production !== undefined &&
      void mutateAsync({ production, way }).then(
        ({ sentence }) =>
          tell(`${way === 'undo' ? 'Undone' : 'Redone'}: ${sentence}.`, { about: 'undo' }),
        (e: Error) => tell(e.message, { bad: !/nothing to/.test(e.message), about: 'undo' }),
      ),
    [mutateAsync, production, tell],
  );
}
