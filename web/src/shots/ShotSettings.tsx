import type { Frames, Shot } from '../api/client';
import {
  framesAt,
  useChangeShot,
  useCopyShot,
  useFrames,
  useProduction,
  useRemoveShot,
  useRevisions,
} from '../api/queries';
import { useCameras } from '../api/rigs';
import { layersOf, useStrandParts, useStrandView, type Layer } from '../api/strands';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { useNotices } from '../shell/Notices';
import { useStarting } from '../shell/useStarting';
import { clipFrames, clipsOf, span, type Range } from '../shell/format';
import { Panel } from '../shell/Panel';
import { Row } from '../shell/Row';
import { useUndo } from '../shell/undo';
import { ClipChoice, playing } from './ClipChoice';
import { Cost } from './Cost';
import { Exposure } from './Exposure';
import { Field } from '../shell/Field';
import { withSettings, type Put } from './settings';
import { LensRows } from './LensRows';
import { NamedChoices } from './NamedChoices';
import { SizeFields } from './SizeFields';

const FRAMES = 'Frames';

/** What notices about a shot's settings are about unless it is a single field. */
const SETTINGS = 'settings';

/** The distance between the last frames of a range, so that a step is not taken for a gap. */
function stepOf(f: Frames): number {
  return Number(/x(\d+)$/.exec(f.shortest)?.[1] ?? 1);
}

/** How a range of frames and the animation do not end or begin together, and the way out. */
function gapOf(f: Frames, all: Range) {
  if (f.last + stepOf(f) <= all.last) {
    return {
      text: `The animation goes on to frame ${all.last}; this range ends at ${f.last}.`,
      action: `Extend to ${all.last}`,
    };
  }
  if (f.first > all.first) {
    return {
      text: `The animation begins at frame ${all.first}; this range begins at ${f.first}.`,
      action: `Begin at ${all.first}`,
    };
  }
  return f.last > all.last
    ? {
        text: `The animation ends at frame ${all.last}; this range goes on to ${f.last}.`,
        action: `Take ${span(all)}`,
      }
    : undefined;
}

/** The settings beside the picture they change. */
export function ShotSettings({
  shot,
  focusing,
  onFocusing,
}: {
  shot: Shot;
  /** True while a press into the picture says what is sharp. */
  focusing: boolean;
  onFocusing: (on: boolean) => void;
}) {
  const change = useChangeShot();
  const revisions = useRevisions().data ?? [];
  const revision = revisions.find((r) => r.id === shot.revisionId);
  const frames = useFrames(shot.frames).data;
  const rate = useProduction().data?.frameRate ?? 24;
  const { tell, mended } = useNotices();
  const put: Put = async (part, about = SETTINGS) => {
    try {
      await change.mutateAsync({ id: shot.id, part });
      mended(about);
      return undefined;
    } catch (e) {
      // By its name, since another shot may be looked at by now.
      const why = `${shot.name}: ${(e as Error).message}`;
      tell(why, { bad: true, about });
      return why;
    }
  };
  // Timecodes become the numbers of their frames.
  const putFrames: Put = async (part) => {
    try {
      const frames = part.frames?.includes(':')
        ? (await framesAt(part.frames, rate)).shortest
        : part.frames;
      return await put({ frames }, FRAMES);
    } catch (e) {
      const why = `${shot.name}: ${(e as Error).message}`;
      tell(why, { bad: true, about: FRAMES });
      return why;
    }
  };
  const handle = (at: 'headHandle' | 'tailHandle', name: string) => (
    <Field
      owner={`shot ${shot.id}`}
      label={name}
      value={String(shot.settings[at])}
      part={(v) => withSettings(shot, { [at]: Number(v) })}
      put={put}
      className="fig w-10"
    />
  );
  const handles = shot.settings.headHandle + shot.settings.tailHandle;
  const cameras = useCameras(revision);
  const camera = cameras.find((c) => c.name === shot.camera);
  const strand = useStrandView(shot, usePlace()?.layer);
  const clips =
    revision?.report.animations.filter((a) => !revision.report.reading.without.includes(a.name)) ??
    [];
  const all = (clipsOf(shot.settings) && clipFrames(playing(clips, shot), rate)) ?? revision;
  const whole = all ? span(all) : shot.frames;
  const within = !frames || !all || (frames.first >= all.first && frames.last <= all.last);
  const gap = frames && all && all.last > all.first ? gapOf(frames, all) : undefined;
  return (
    <Panel label="Settings" actions={<Commands shot={shot} layer={strand?.layer} />}>
      <Field
        owner={`shot ${shot.id}`}
        label="Name"
        value={shot.name}
        part={(name) => ({ name })}
        put={put}
        className="mb-1.5 w-full font-[640]"
      />
      <Row name="Camera" hint={camera?.moves ? 'animated' : 'static'}>
        <Choice
          label="Camera"
          value={shot.camera}
          options={cameras.map((c) => ({
            value: c.name,
            label: c.name,
            hint: `${c.moves ? 'animated' : 'static'}${c.rig ? ' · rig' : ''}`,
          }))}
          onChange={(c) => void put({ camera: c })}
        />
      </Row>
      <ClipChoice shot={shot} clips={clips} put={put} />
      <Row
        name="Frames"
        hint={frames && (within ? `${frames.count} of ${whole}` : `${frames.count} in all`)}
      >
        <Field
          owner={`shot ${shot.id}`}
          label={FRAMES}
          value={shot.frames}
          part={(f) => ({ frames: f })}
          put={putFrames}
          className="fig w-full"
        />
      </Row>
      <Row
        name="Handles"
        hint={
          handles > 0 && frames ? `${Math.max(0, frames.count - handles)} in the cut` : 'frames'
        }
      >
        <span className="flex items-baseline gap-1.5">
          {handle('headHandle', 'Handle at the beginning')}
          <span className="text-t2">and</span>
          {handle('tailHandle', 'Handle at the end')}
        </span>
      </Row>
      <SizeFields shot={shot} put={put} />
      <Row
        name="Scale"
        hint={`${Math.round((shot.width * shot.scale) / 100)} × ${Math.round((shot.height * shot.scale) / 100)}`}
      >
        <span role="radiogroup" aria-label="Scale" className="flex gap-2.5">
          {[25, 50, 100].map((s) => (
            <button
              key={s}
              role="radio"
              aria-checked={s === shot.scale}
              className={
                s === shot.scale
                  ? 'font-semibold whitespace-nowrap underline decoration-mark decoration-2 underline-offset-4'
                  : 'text-t2 whitespace-nowrap hover:text-t1'
              }
              onClick={() => void put({ scale: s })}
            >
              {s} %
            </button>
          ))}
        </span>
      </Row>
      <Exposure shot={shot} put={put} />
      <LensRows shot={shot} put={put} focusing={focusing} onFocusing={onFocusing} />
      <NamedChoices shot={shot} put={put} />
      {gap && (
        <Remark
          text={gap.text}
          action={gap.action}
          onClick={() => void put({ frames: whole }, FRAMES)}
        />
      )}
      {strand && <Cost strand={strand} />}
    </Panel>
  );
}

function Remark({ text, action, onClick }: { text: string; action: string; onClick: () => void }) {
  return (
    <div className="mt-3.5 flex gap-2.5 leading-4.5">
      <svg width="14" height="14" className="mt-0.5 shrink-0" aria-hidden="true">
        <circle
          cx="7"
          cy="7"
          r="6"
          fill="none"
          stroke="var(--t1)"
          strokeWidth="1.5"
          strokeDasharray="1.6 2"
        />
      </svg>
      <div>
        <p>{text}</p>
        <button className="underline decoration-t3 underline-offset-3" onClick={onClick}>
          {action}
        </button>
      </div>
    </div>
  );
}

function Commands({ shot, layer }: { shot: Shot; layer: Layer | undefined }) {
  const { ask, pending, dialog } = useStarting(SETTINGS);
  const parts = useStrandParts();
  const remove = useRemoveShot();
  const copy = useCopyShot();
  const go = useGo();
  const undo = useUndo();
  const { tell } = useNotices();
  const on = parts ? layersOf(shot, parts) : [];
  const wanted = on.length ? on : layer ? [layer] : [];
  const render = () =>
    ask(
      wanted.map((l) => ({ shotId: shot.id, layerId: l.id, frames: null })),
      (f) => f.shot === shot.name,
    );
  // These settings are gone with the shot by then, so what follows does not hang on them.
  const drop = () =>
    remove.mutateAsync(shot).then(
      () =>
        tell(`Shot ${shot.name} is removed; its files and runs stay.`, {
          action: { label: 'Undo', run: () => undo('undo') },
        }),
      (e: Error) => tell(e.message, { bad: true }),
    );
  return (
    <>
      <Button main onClick={render} disabled={pending || wanted.length === 0}>
        Start render
      </Button>
      <Button
        onClick={() =>
          copy.mutate(shot.id, {
            onSuccess: (s) => go({ shot: s.name }),
            onError: (e) => tell(e.message, { bad: true }),
          })
        }
      >
        Copy
      </Button>
      <Button onClick={() => void drop()}>Remove shot</Button>
      {dialog}
    </>
  );
}
