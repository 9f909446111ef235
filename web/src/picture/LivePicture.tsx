import { useEffect, useRef, useState, type ReactNode } from 'react';
import { livePicture, type LiveUpdate, type Part, type Shown } from '../api/client';
import { duration, percent } from '../shell/format';
import { placeOf } from './Rectangle';

/** Shares of the picture that are clipped and black, 0 to 1; `lost` if that is most of it. */
export type Brightness = LiveUpdate['brightness'];

function samplesText({ samples, target }: LiveUpdate): string {
  if (samples === 0) {
    return 'coarse';
  }
  return samples > target
    ? `${samples} samples, more than the recipe’s ${target}`
    : `${samples} of ${target} samples`;
}

/** This window, as the server knows whom it sends live pictures. */
export const VIEWER = Math.random().toString(36).slice(2);
const SETTLE_MS = 40;

/** The picture through a shot's camera: coarse at once, refined while nobody touches anything. */
export function LivePicture({
  shotId,
  layerId,
  frame,
  settings,
  aspect,
  shown: what,
  still = false,
  note,
  over,
  part,
}: {
  shotId: number;
  layerId: number;
  frame: number;
  /** Changes whenever anything that the picture depends on does. */
  settings: string;
  aspect: number;
  /** What is shown of the layer. */
  shown?: Shown;
  /** True to leave the picture as it is for a while, once there is one. */
  still?: boolean;
  /** What is said about the picture beside its samples. */
  note?: (of: LiveUpdate) => ReactNode;
  /** What lies over the picture. */
  over?: ReactNode;
  /** The part of it that is refined; what is around it stays as it was. */
  part?: Part;
}) {
  const [whole, setWhole] = useState<{ of: string; update: LiveUpdate }>();
  const [inPart, setInPart] = useState<{ of: string; update: LiveUpdate }>();
  const [failed, setFailed] = useState<string>();
  const well = useRef<HTMLDivElement>(null);
  const [box, setBox] = useState({ width: 0, height: 0 });

  useEffect(() => {
    const watch = new ResizeObserver(([e]) => setBox(e!.contentRect));
    watch.observe(well.current!);
    return () => watch.disconnect();
  }, []);

  const width = Math.floor(Math.min(box.width, box.height * aspect));
  const height = Math.floor(width / aspect);
  const most = Math.max(
    16,
    Math.ceil((Math.max(width, height) * window.devicePixelRatio) / 64) * 64,
  );

  const rests = still && whole !== undefined;
  const { x, y, width: partWidth, height: partHeight } = part ?? {};
  const about = [shotId, layerId, frame, settings, what].join();
  const aboutPart = [about, x, y, partWidth, partHeight].join();
  const shown = part ? (inPart?.of === aboutPart ? inPart.update : undefined) : whole?.update;
  useEffect(() => {
    if (width === 0 || rests) {
      return;
    }
    let source: EventSource | undefined;
    let heard = false;
    const wait = setTimeout(() => {
      const wanted =
        x === undefined ? undefined : { x, y: y!, width: partWidth!, height: partHeight! };
      source = new EventSource(livePicture(shotId, VIEWER, frame, most, layerId, what, wanted));
      source.addEventListener('picture', (e) => {
        heard = true;
        setFailed(undefined);
        const update = JSON.parse((e as MessageEvent<string>).data) as LiveUpdate;
        if (wanted) {
          setInPart({ of: aboutPart, update });
        } else {
          setWhole({ of: about, update });
        }
      });
      source.addEventListener('failed', (e) => {
        heard = true;
        setFailed((e as MessageEvent<string>).data);
      });
      // The stream ends when the picture is finished; the browser must not ask for it again.
      source.onerror = () => {
        source?.close();
        if (!heard) {
          setFailed('This picture could not be had from the server.');
        }
      };
    }, SETTLE_MS);
    return () => {
      clearTimeout(wait);
      source?.close();
    };
  }, [
    shotId,
    layerId,
    frame,
    what,
    rests,
    most,
    width,
    x,
    y,
    partWidth,
    partHeight,
    about,
    aboutPart,
  ]);

  return (
    <div ref={well} className="grid min-h-0 min-w-0 flex-1 place-items-center overflow-hidden">
      <figure style={{ width, height }} className="relative">
        {whole && (
          <img
            src={`data:image/jpeg;base64,${whole.update.data}`}
            alt={`Frame ${frame} through the shot's camera`}
            className={`h-full w-full ${part && whole.of !== about ? 'opacity-30' : ''}`}
            data-testid="live-picture"
            data-samples={whole.update.samples}
          />
        )}
        {part && shown && (
          <img
            src={`data:image/jpeg;base64,${shown.data}`}
            alt={`Part of frame ${frame}`}
            className="absolute"
            style={placeOf(part)}
            data-testid="live-part"
            data-samples={shown.samples}
          />
        )}
        {over && <div className="absolute inset-0">{over}</div>}
        {!whole && !shown && !failed && (
          <p className="grid h-full place-items-center text-t3">rendering …</p>
        )}
        {failed && <p className="absolute inset-x-0 top-2 text-center text-bad">{failed}</p>}
        {shown && (
          <figcaption className="fig absolute inset-x-0 top-full flex flex-wrap gap-x-4 pt-1 text-t2">
            {note?.(shown)}
            <span className="ml-auto">
              {shown.noise !== null && `noise ${percent(shown.noise)} · `}
              {samplesText(shown)} · {duration(shown.seconds)}
            </span>
          </figcaption>
        )}
      </figure>
    </div>
  );
}
