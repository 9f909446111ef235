import { useEffect } from 'react';
import { answer, api, type Shot } from '../api/client';
import { useChangeShot } from '../api/queries';
import { metres } from '../shell/format';
import { useNotices } from '../shell/Notices';
import { playhead } from '../shell/playhead';
import { withLens } from './settings';

/** Significant digits of a distance that is measured in a picture. */
const DIGITS = 4;

/** Lies over the picture: what is pressed becomes sharp. */
export function FocusPress({
  shot,
  layer,
  onDone,
}: {
  shot: Shot;
  layer: number;
  onDone: () => void;
}) {
  const change = useChangeShot();
  const { tell } = useNotices();
  useEffect(() => {
    const escape = (e: KeyboardEvent) => e.key === 'Escape' && onDone();
    window.addEventListener('keydown', escape);
    return () => window.removeEventListener('keydown', escape);
  }, [onDone]);
  const put = (part: Parameters<typeof withLens>[1]) =>
    change.mutateAsync({ id: shot.id, part: withLens(shot, { depthOfField: true, ...part }) });
  const press = async (x: number, y: number) => {
    try {
      const { object, depth } = await answer(
        api.GET('/api/shots/{id}/pick', {
          params: { path: { id: shot.id }, query: { frame: playhead.now(), layer, x, y } },
        }),
      );
      if (object === null || depth === null) {
        tell('Nothing is there that could be sharp; press an object.', { bad: true });
        return;
      }
      await put({ focusDistance: Number(depth.toPrecision(DIGITS)), focusObject: null });
      onDone();
      tell(`Sharp at ${metres(depth)}, where ${object} is now.`, {
        action: {
          label: `Keep ${object} sharp`,
          run: () => void put({ focusDistance: null, focusObject: object }),
        },
      });
    } catch (e) {
      tell((e as Error).message, { bad: true });
    }
  };
  return (
    <div
      role="img"
      aria-label="The picture; press what is to be sharp"
      data-testid="focus-press"
      className="h-full w-full cursor-crosshair outline-2 -outline-offset-2 outline-mark"
      onClick={(e) => {
        const box = e.currentTarget.getBoundingClientRect();
        void press((e.clientX - box.left) / box.width, (e.clientY - box.top) / box.height);
      }}
    />
  );
}
