import { useState } from 'react';
import { snapshotPicture, type Snapshot } from '../api/client';
import {
  useKeepSnapshot,
  useRemoveSnapshot,
  useRenameSnapshot,
  useRestoreSnapshot,
  useSnapshots,
  useSnapshotsApart,
} from '../api/quality';
import { useShots } from '../api/queries';
import type { StrandView } from '../api/strands';
import { Compare } from '../picture/Compare';
import { VIEWER } from '../picture/LivePicture';
import { StrandPicture } from '../picture/StrandPicture';
import { Button } from '../shell/Button';
import { Field } from '../shell/Field';
import { duration, percent, recipeText } from '../shell/format';
import { useKeys } from '../shell/keys';
import { useTell } from '../shell/Notices';
import { usePlayhead } from '../shell/playhead';
import { useUndo } from '../shell/undo';
import { useSay } from '../shell/useSay';
import { differing, settingName, valueOf, valueText } from './settings';

/** Pictures that were kept with their settings; two of them are compared, one is gone back to. */
export function Snapshots({ strand }: { strand: StrandView }) {
  const { shot, layer } = strand;
  const frame = usePlayhead();
  const all = useSnapshots();
  const keep = useKeepSnapshot();
  const restore = useRestoreSnapshot();
  const remove = useRemoveSnapshot();
  const [pair, setPair] = useState<number[]>([]);
  const tell = useTell();
  const undo = useUndo();
  const save = () =>
    keep.mutate(
      { shotId: shot.id, layerId: layer.id, viewer: VIEWER, name: null },
      { onError: (e) => tell(e.message, { bad: true }) },
    );
  useKeys((e) => {
    if (e.key === 'k' && !keep.isPending) {
      save();
      return true;
    }
  });
  const chosen = pair
    .map((id) => all?.find((s) => s.id === id))
    .filter((s): s is Snapshot => s !== undefined);
  const back = (s: Snapshot) =>
    restore.mutate(s.id, {
      onSuccess: () =>
        tell(`The settings of "${s.name}" are back.`, {
          action: { label: 'Undo', run: () => undo('undo') },
        }),
      onError: (e) => tell(e.message, { bad: true }),
    });
  return (
    <div className="grid min-h-0 flex-1 grid-cols-[minmax(0,1fr)_250px] gap-5 pb-4">
      <div className="flex min-h-0 min-w-0 flex-col">
        {chosen.length === 2 ? (
          <Two a={chosen[0]!} b={chosen[1]!} onClose={() => setPair([])} />
        ) : (
          <>
            <div className="flex h-12 shrink-0 items-center gap-4">
              <span className="text-t2">
                {chosen.length === 1
                  ? 'Press another one to compare the two.'
                  : 'The picture as it is now.'}
              </span>
              <span className="ml-auto">
                <Button main disabled={keep.isPending} onClick={save}>
                  Keep this picture
                </Button>
              </span>
            </div>
            <div className="flex min-h-0 flex-1 pb-8">
              <StrandPicture strand={strand} frame={frame} />
            </div>
          </>
        )}
      </div>
      <div className="min-h-0 overflow-auto" aria-label="Snapshots" role="group">
        {all?.length === 0 && (
          <p className="pt-2 text-t2">
            No picture is kept yet. K keeps the one that is shown, with its settings, seconds and
            noise.
          </p>
        )}
        {all?.map((s) => (
          <Kept
            key={s.id}
            of={s}
            chosen={pair.includes(s.id)}
            onChoose={() =>
              setPair((p) =>
                p.includes(s.id) ? p.filter((id) => id !== s.id) : [...p.slice(-1), s.id],
              )
            }
            onBack={() => back(s)}
            onRemove={() => remove.mutate(s.id)}
          />
        ))}
      </div>
    </div>
  );
}

const figures = (s: Snapshot) =>
  [s.noise !== null && `noise ${percent(s.noise)}`, `${s.samples} samples`, duration(s.seconds)]
    .filter(Boolean)
    .join(' · ');

function Kept({
  of,
  chosen,
  onChoose,
  onBack,
  onRemove,
}: {
  of: Snapshot;
  chosen: boolean;
  onChoose: () => void;
  onBack: () => void;
  onRemove: () => void;
}) {
  const shot = useShots().data?.find((s) => s.id === of.shotId);
  const rename = useRenameSnapshot();
  const put = useSay();
  const press = 'min-h-6 text-t1 underline underline-offset-3';
  return (
    <figure className="mb-4" data-testid={`snapshot-${of.id}`}>
      <button
        aria-pressed={chosen}
        aria-label={`Compare ${of.name}`}
        className={`block w-full outline ${chosen ? 'outline-2 outline-mark -outline-offset-2' : 'outline-0'}`}
        onClick={onChoose}
      >
        <img
          src={snapshotPicture(of.id)}
          alt={of.name}
          className="w-full"
          style={{ aspectRatio: `${of.width} / ${of.height}` }}
        />
      </button>
      <Field
        owner={`snapshot ${of.id}`}
        label="Name of the snapshot"
        value={of.name}
        part={(name) => name}
        put={(name) => put(rename.mutateAsync({ id: of.id, name }), 'Name of the snapshot')}
        className="mt-1 w-full font-semibold"
      />
      <p className="text-t2">
        {shot?.name ?? 'a shot that is gone'}, frame <span className="fig">{of.frame}</span>
      </p>
      <p className="fig text-t2">{figures(of)}</p>
      <p className="text-t2">{recipeText(of.recipe)}</p>
      <p className="flex gap-4">
        <button className={press} onClick={onBack}>
          back to its settings
        </button>
        <button className={press} aria-label={`Remove ${of.name}`} onClick={onRemove}>
          remove
        </button>
      </p>
    </figure>
  );
}

/** Two of them, with what their recipes do not share. */
function Two({ a, b, onClose }: { a: Snapshot; b: Snapshot; onClose: () => void }) {
  const { data, error } = useSnapshotsApart(a.id, b.id);
  const others = differing(a.recipe, b.recipe);
  const compared = (s: Snapshot) => ({
    src: snapshotPicture(s.id),
    label: s.name,
    note: figures(s),
  });
  return (
    <>
      <p className="text-t2">
        {data && (
          <span className="fig">
            apart {percent(data.apart)}
            {others.length > 0 && ' · '}
          </span>
        )}
        {error && <span>{error.message} </span>}
        {others
          .map(
            (s) =>
              `${settingName(s)} ${valueText(s, valueOf(a.recipe, s))} → ${valueText(s, valueOf(b.recipe, s))}`,
          )
          .join(', ') || 'The same recipe.'}
        <button className="ml-4 text-t1 underline underline-offset-3" onClick={onClose}>
          the picture as it is now
        </button>
      </p>
      <Compare a={compared(a)} b={compared(b)} aspect={a.width / a.height} />
    </>
  );
}
