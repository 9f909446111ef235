import { useCallback } from 'react';
import { useProduction, useStep } from '../api/queries';
import { useTell } from './Notices';

/** Undoes or redoes what this window changed last, and says what that was. */
export function useUndo(): (way: 'undo' | 'redo') => void {
  const { mutate } = useStep(useProduction().data?.id);
  const tell = useTell();
  return useCallback(
    (way) =>
      mutate(way, {
        onSuccess: ({ sentence }) =>
          tell(`${way === 'undo' ? 'Undone' : 'Redone'}: ${sentence}.`, { about: 'undo' }),
        onError: (e) => tell(e.message, { bad: !/nothing to/.test(e.message), about: 'undo' }),
      }),
    [mutate, tell],
  );
}
