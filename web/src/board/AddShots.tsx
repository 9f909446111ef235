import { useAddAllShots, useRevisions, useShots } from '../api/queries';
import { useCameras } from '../api/rigs';
import { useCurrentRevision } from '../shell/current';
import { useNotices } from '../shell/Notices';
import { useUndo } from '../shell/undo';

/** Makes a shot of each camera of the current scene that has none yet. */
export function AddShots() {
  const revision = useCurrentRevision();
  const shots = useShots().data ?? [];
  const revisions = useRevisions().data ?? [];
  const add = useAddAllShots();
  const cameras = useCameras(revision);
  const { tell } = useNotices();
  const undo = useUndo();
  if (!revision) {
    return null;
  }
  const scene = (id: number) => revisions.find((r) => r.id === id)?.scene;
  const taken = shots.filter((s) => scene(s.revisionId) === revision.scene).map((s) => s.camera);
  const left = cameras.filter((c) => !taken.includes(c.name));
  if (left.length === 0) {
    return null;
  }
  const text = left.length === 1 ? 'the camera' : `${left.length} cameras`;
  return (
    <button
      className="mt-3 min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1"
      title={left.map((c) => c.name).join(', ')}
      disabled={add.isPending}
      onClick={() =>
        add.mutate(revision.id, {
          onSuccess: (made) =>
            tell(`${made.length === 1 ? '1 shot is' : `${made.length} shots are`} made.`, {
              action: { label: 'Undo', run: () => undo('undo') },
            }),
          onError: (e) => tell(e.message, { bad: true }),
        })
      }
    >
      Make shots of {text} of {revision.scene} that {left.length === 1 ? 'has' : 'have'} none
    </button>
  );
}
