import { useEffect, useRef } from 'react';
import { Player, type PlayerModel, type PlayerReport } from './Player';

/** The player on a canvas: fitted into its well, or pixel for pixel with scrolling. */
export function PlayerCanvas({
  model,
  onFrame,
  onEnded,
  onReport,
}: {
  model: PlayerModel;
  onFrame: (f: number) => void;
  onEnded: () => void;
  onReport: (r: PlayerReport) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const player = useRef<Player>(null);
  const heard = useRef({ onFrame, onEnded, onReport });
  useEffect(() => {
    heard.current = { onFrame, onEnded, onReport };
  });
  const { track, urls, frame, playing, loop, every, fit } = model;
  useEffect(() => {
    player.current = new Player(
      canvas.current!,
      { track, urls, frame, playing, loop, every, fit },
      (f) => heard.current.onFrame(f),
      () => heard.current.onEnded(),
      (r) => heard.current.onReport(r),
    );
    return () => player.current?.close();
    // The player lives as long as the canvas; later models reach it below.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  useEffect(
    () => player.current?.update({ track, urls, frame, playing, loop, every, fit }),
    [track, urls, frame, playing, loop, every, fit],
  );
  return (
    <div
      className={`grid min-h-0 min-w-0 flex-1 ${fit ? 'place-items-center overflow-hidden' : 'overflow-auto [place-items:safe_center]'}`}
    >
      <canvas ref={canvas} role="img" aria-label={`Frame ${frame}`} data-testid="player" />
    </div>
  );
}
