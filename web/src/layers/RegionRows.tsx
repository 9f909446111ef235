import { useProduction } from '../api/queries';
import type { LayerDocument } from '../api/client';
import type { StrandView } from '../api/strands';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { playhead, usePlayhead } from '../shell/playhead';
import { Row } from '../shell/Row';
import { drawnAt, drawnRegion, hasKey, withKey, withoutKey, type Region } from './region';
import type { Item } from '../shell/tree';

/** In the middle, half the picture across and down. */
const MIDDLE = { x: 0.25, y: 0.25, width: 0.5, height: 0.5 };

const press = 'min-h-6 text-t1 underline underline-offset-3';

/** The part of the picture that is rendered: all of it, a rectangle, or what follows objects. */
export function RegionRows({
  strand,
  items,
  chosen,
  drawing,
  onDrawing,
  put,
}: {
  strand: StrandView;
  items: Item[];
  chosen: ReadonlySet<number>;
  /** True while a rectangle is drawn on the picture. */
  drawing: boolean;
  onDrawing: (on: boolean) => void;
  put: (part: Partial<LayerDocument['layer']>, about: string) => Promise<string | undefined>;
}) {
  const { region } = strand.layer.document.layer;
  const names = items.filter((i) => chosen.has(i.object.node)).map((i) => i.object.name);
  const kind = !region
    ? 'whole'
    : region.fixed
      ? 'fixed'
      : region.drawn.length > 0
        ? 'drawn'
        : 'follow';
  const text = {
    whole: 'the whole picture',
    fixed: `${region?.fixed?.width} × ${region?.fixed?.height} at ${region?.fixed?.x}, ${region?.fixed?.y} px`,
    drawn: (region?.drawn.length ?? 0) > 1 ? `drawn, ${region?.drawn.length} keys` : 'drawn',
    follow: `follows ${region?.follow.join(', ')}`,
  }[kind];
  const some = names.length > 2 ? `${names.length} chosen objects` : names.join(', ');
  const say = (r: Region | null) => void put({ region: r }, 'region');
  return (
    <>
      <Row name="Region">
        <Choice
          label="Region"
          value={kind}
          shown={text}
          options={[
            { value: 'whole', label: 'the whole picture' },
            { value: 'drawn', label: 'draw it on the picture' },
            ...(kind === 'fixed' ? [{ value: 'fixed', label: text }] : []),
            ...(names.length > 0
              ? [{ value: 'chosen', label: `follow ${some}` }]
              : [{ value: 'none', label: 'follow: choose objects first' }]),
            ...(kind === 'follow' ? [{ value: 'follow', label: text }] : []),
          ]}
          onChange={(v) => {
            onDrawing(v === 'drawn');
            if (v === 'whole') {
              say(null);
            } else if (v === 'drawn' && kind !== 'drawn') {
              say(drawnRegion([{ seconds: 0, ...MIDDLE }], region));
            } else if (v === 'chosen') {
              say({ ...drawnRegion([], region), follow: names });
            }
          }}
        />
      </Row>
      {region && kind === 'drawn' && (
        <DrawnRow
          region={region}
          first={Number(/\d+/.exec(strand.shot.frames)?.[0] ?? 1)}
          drawing={drawing}
          onDrawing={onDrawing}
          say={say}
        />
      )}
      {region && kind === 'follow' && (
        <Row name="Around it" hint="px">
          <Field
            owner={`layer ${strand.layer.id}`}
            label="Pixels around what the region follows"
            value={String(region.pad)}
            part={(v) => ({ region: { ...region, pad: Number(v) } })}
            put={(part, about) => put(part, about ?? 'region')}
            className="fig w-14"
          />
        </Row>
      )}
    </>
  );
}

/** The keys of a region that is drawn. */
function DrawnRow({
  region,
  first,
  drawing,
  onDrawing,
  say,
}: {
  region: Region;
  /** First frame of the shot. */
  first: number;
  drawing: boolean;
  onDrawing: (on: boolean) => void;
  say: (r: Region) => void;
}) {
  const frame = usePlayhead();
  const rate = useProduction().data?.frameRate ?? 24;
  // A single one is the same in all frames; it is the first frame's once there are more.
  const keys =
    region.drawn.length > 1
      ? region.drawn
      : region.drawn.map((k) => ({ ...k, seconds: first / rate }));
  const now = frame / rate;
  const frameOf = (seconds: number) => Math.round(seconds * rate);
  const here = keys.length > 1 && hasKey(keys, now);
  return (
    <Row
      name="Drawn"
      note={
        keys.length > 1
          ? `drawing sets the key of frame ${frame}; between keys it moves in straight lines`
          : 'the same in all frames'
      }
    >
      <span className="flex flex-wrap gap-x-3">
        <button aria-pressed={drawing} className={press} onClick={() => onDrawing(!drawing)}>
          {drawing ? 'done' : 'draw it again'}
        </button>
        {here ? (
          <button
            className={press}
            onClick={() => say({ ...region, drawn: withoutKey(keys, now) })}
          >
            take the key at {frame} out
          </button>
        ) : (
          <button
            className={`${press} disabled:text-t3`}
            disabled={hasKey(keys, now)}
            title={hasKey(keys, now) ? 'Go to another frame to have it move' : undefined}
            onClick={() => say({ ...region, drawn: withKey(keys, now, drawnAt(keys, now)) })}
          >
            key at frame {frame}
          </button>
        )}
      </span>
      {keys.length > 1 && (
        <span className="fig flex flex-wrap gap-x-3 text-t2">
          keys at
          {keys.map((k) => (
            <button
              key={k.seconds}
              className={press}
              aria-label={`Go to the key at frame ${frameOf(k.seconds)}`}
              onClick={() => playhead.to(frameOf(k.seconds))}
            >
              {frameOf(k.seconds)}
            </button>
          ))}
        </span>
      )}
    </Row>
  );
}
