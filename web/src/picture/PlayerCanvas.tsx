import { useEffect, useRef, useState, type ReactNode } from 'react';
import { Player, type PlayerModel, type PlayerReport } from './Player';

/** A place in a picture, shares of its width and height. */
export type Point = { x: number; y: number };

/** The player on a canvas: fitted into its well, or enlarged with scrolling. */
export function PlayerCanvas({
  model,
  overlay,
  onFrame,
  onEnded,
  onReport,
  onPoint,
  onSeen,
}: {
  model: PlayerModel;
  /** What lies on the picture; it has its size. */
  overlay?: ReactNode;
  onFrame: (f: number) => void;
  onEnded: () => void;
  onReport: (r: PlayerReport) => void;
  /** Hears where the pointer is; undefined if it has left. */
  onPoint?: (p: Point | undefined) => void;
  /** Hears whenever a picture is painted. */
  onSeen?: (canvas: HTMLCanvasElement) => void;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const player = useRef<Player>(null);
  const heard = useRef({ onFrame, onEnded, onReport, onSeen });
  useEffect(() => {
    heard.current = { onFrame, onEnded, onReport, onSeen };
  });
  const { track, urls, frame, playing, repeat, every, zoom, against } = model;
  const [size, setSize] = useState({ width: 0, height: 0 });
  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setSize(e!.contentRect));
    watch.observe(canvas.current!);
    return () => watch.disconnect();
  }, []);
  useEffect(() => {
    player.current = new Player(
      canvas.current!,
      { track, urls, frame, playing, repeat, every, zoom, against },
      (f) => heard.current.onFrame(f),
      () => heard.current.onEnded(),
      (r) => heard.current.onReport(r),
      (c) => heard.current.onSeen?.(c),
    );
    return () => player.current?.close();
    // The player lives as long as the canvas; later models reach it below.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  useEffect(
    () => player.current?.update({ track, urls, frame, playing, repeat, every, zoom, against }),
    [track, urls, frame, playing, repeat, every, zoom, against],
  );
  // Of two pictures side by side what lies on them lies on the first.
  const width = against?.mode === 'side by side' ? (size.width - 12) / 2 : size.width;
  return (
    <div
      className={`grid min-h-0 min-w-0 flex-1 ${zoom ? 'overflow-auto [place-items:safe_center]' : 'place-items-center overflow-hidden'}`}
    >
      <canvas
        ref={canvas}
        role="img"
        aria-label={`Frame ${frame}`}
        data-testid="player"
        className="[grid-area:1/1]"
      />
      <div
        className="relative justify-self-start [grid-area:1/1]"
        style={{
          width,
          height: size.height,
          marginLeft: zoom ? 0 : `calc(50% - ${size.width / 2}px)`,
        }}
        onPointerMove={(e) => {
          const box = e.currentTarget.getBoundingClientRect();
          onPoint?.({
            x: (e.clientX - box.left) / box.width,
            y: (e.clientY - box.top) / box.height,
          });
        }}
        onPointerLeave={() => onPoint?.(undefined)}
      >
        {overlay}
      </div>
    </div>
  );
}
