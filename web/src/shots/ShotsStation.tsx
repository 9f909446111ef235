import { useState, type ReactNode } from 'react';
import { cameraPicture, type Part, type Shot } from '../api/client';
import { useFrames, useOrderShots, useRevisions, useShots } from '../api/queries';
import { useRigs } from '../api/rigs';
import { useStrandView } from '../api/strands';
import { GuideLines, MATTES, storedGuides, storeGuides, type Guides } from '../picture/Guides';
import { Rectangle } from '../picture/Rectangle';
import { StrandPicture } from '../picture/StrandPicture';
import { SlowPicture } from '../picture/SlowPicture';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { useCurrentShot } from '../shell/current';
import { usePlayhead } from '../shell/playhead';
import { useInSight } from '../shell/useInSight';
import { AddShot } from './AddShot';
import { BrightnessNote } from './Exposure';
import { FocusPress } from './FocusPress';
import { PreviewButton } from './PreviewButton';
import { CutButton } from './CutButton';
import { RenameButton } from './RenameButton';
import { ShotSettings } from './ShotSettings';
import { Viewfinder } from './Viewfinder';

/** What is seen of a shot: as it will be rendered, through its camera as plain shapes, or both. */
type Sight = 'true' | 'find' | 'both';

const SIGHTS: { sight: Sight; name: string }[] = [
  { sight: 'true', name: 'True picture' },
  { sight: 'find', name: 'Viewfinder' },
  { sight: 'both', name: 'Both' },
];

export default function ShotsStation() {
  const shots = useShots();
  const shot = useCurrentShot();
  const frame = usePlayhead();
  const strand = useStrandView(shot, usePlace()?.layer);
  const [focusing, setFocusing] = useState(false);
  const [sight, setSight] = useState<Sight>('true');
  const [drawing, setDrawing] = useState(false);
  const [part, setPart] = useState<Part>();
  const finding = sight !== 'true';
  const [guides, setGuides] = useState(storedGuides);
  const revision = useRevisions().data?.find((r) => r.id === shot?.revisionId);
  const ends = useFrames(shot?.frames).data;
  const put = (g: Guides) => {
    setGuides(g);
    storeGuides(g);
  };
  if (!shots.data) {
    return <main />;
  }
  if (!shot) {
    return <NoShots />;
  }
  const w = Math.round((shot.width * shot.scale) / 100);
  const h = Math.round((shot.height * shot.scale) / 100);
  return (
    <main className="grid min-h-0 grid-cols-[216px_minmax(0,1fr)_300px]">
      <ShotList shots={shots.data} current={shot} />
      <section className="flex min-h-0 flex-col bg-well px-4.5" aria-label="Picture">
        <div className="flex h-10 items-center justify-between">
          <span className="flex items-baseline gap-5">
            <span role="tablist" aria-label="What is shown" className="flex gap-4">
              {SIGHTS.map((t) => (
                <button
                  key={t.sight}
                  role="tab"
                  aria-selected={t.sight === sight}
                  className={`min-h-6 ${t.sight === sight ? 'font-semibold' : 'text-t2 hover:text-t1'}`}
                  onClick={() => setSight(t.sight)}
                >
                  {t.name}
                </button>
              ))}
            </span>
            <span className="text-t2">
              {shot.name} through <span className="text-t1">{shot.camera}</span>
              {strand && `, layer ${strand.layer.name}`}
            </span>
          </span>
          <span className="flex items-center gap-4">
            <span className="fig text-t2">
              {w} × {h} · {shot.scale} %
            </span>
            <PreviewButton key={shot.id} shot={shot} />
          </span>
        </div>
        {finding && revision && (
          <Viewfinder
            key={`find ${shot.id}`}
            shot={shot}
            revision={revision}
            first={ends?.first ?? revision.first}
            last={ends?.last ?? revision.last}
            over={<GuideLines guides={guides} aspect={shot.width / shot.height} />}
          />
        )}
        {sight === 'find' ? null : strand ? (
          <StrandPicture
            key={shot.id}
            part={part}
            strand={strand}
            frame={frame}
            note={(u) => <BrightnessNote shot={shot} of={u.brightness} />}
            over={
              <>
                <GuideLines guides={guides} aspect={shot.width / shot.height} />
                {(drawing || part) && (
                  <div className={`absolute inset-0 ${drawing ? '' : 'pointer-events-none'}`}>
                    <Rectangle
                      part={part}
                      label="Draw a rectangle to refine"
                      onDraw={(p) => {
                        setPart(p);
                        setDrawing(false);
                      }}
                    />
                  </div>
                )}
                {focusing && (
                  <FocusPress
                    shot={shot}
                    layer={strand.layer.id}
                    onDone={() => setFocusing(false)}
                  />
                )}
              </>
            }
          />
        ) : (
          <div className="flex-1" />
        )}
        <GuideBar guides={guides} onGuides={put}>
          {sight !== 'find' && (
            <button
              aria-pressed={drawing || part !== undefined}
              className={`min-h-6 ${drawing || part ? 'font-semibold text-t1' : 'hover:text-t1'}`}
              onClick={() => {
                setDrawing(!drawing && !part);
                setPart(undefined);
              }}
            >
              {drawing ? 'Draw it on the picture' : part ? 'Whole picture' : 'Rectangle'}
            </button>
          )}
        </GuideBar>
      </section>
      <ShotSettings key={shot.id} shot={shot} focusing={focusing} onFocusing={setFocusing} />
    </main>
  );
}

/** Which lines help to frame the picture. */
function GuideBar({
  guides,
  onGuides,
  children,
}: {
  guides: Guides;
  onGuides: (g: Guides) => void;
  children: ReactNode;
}) {
  const toggle = (key: 'safe' | 'thirds' | 'centre', label: string) => (
    <button
      aria-pressed={guides[key]}
      className={`min-h-6 ${guides[key] ? 'font-semibold text-t1' : 'hover:text-t1'}`}
      onClick={() => onGuides({ ...guides, [key]: !guides[key] })}
    >
      {label}
    </button>
  );
  return (
    <div className="flex h-11 items-center gap-5 text-t2">
      {toggle('safe', 'Safe areas')}
      {toggle('thirds', 'Thirds')}
      {toggle('centre', 'Centre')}
      <Choice
        label="Matte"
        value={guides.matte}
        shown={
          guides.matte ? `Matte ${MATTES.find((m) => m.value === guides.matte)?.label}` : 'Matte'
        }
        options={MATTES}
        onChange={(matte) => onGuides({ ...guides, matte })}
      />
      {children}
    </div>
  );
}

function NoShots() {
  const revisions = useRevisions().data ?? [];
  const go = useGo();
  return (
    <main className="grid place-items-center bg-well">
      <div className="text-center">
        <p className="big mb-2">No shots yet</p>
        <p className="mb-5 text-t2">
          {revisions.length
            ? 'A shot is a camera with a range of frames, a size and settings.'
            : 'Import a scene first; its cameras become shots.'}
        </p>
        {revisions.length ? (
          <AddShot label="Make a shot" />
        ) : (
          <Button main onClick={() => go({ station: 'scene' })}>
            Go to Scene
          </Button>
        )}
      </div>
    </main>
  );
}

function ShotList({ shots, current }: { shots: Shot[]; current: Shot }) {
  const revisions = useRevisions().data ?? [];
  const go = useGo();
  const rigs = useRigs();
  const list = useInSight<HTMLUListElement>(current.id);
  const order = useOrderShots();
  const move = (from: number, way: number) => {
    const ids = shots.map((s) => s.id);
    const to = from + way;
    if (to >= 0 && to < ids.length) {
      ids.splice(to, 0, ...ids.splice(from, 1));
      order.mutate(ids);
    }
  };
  return (
    <nav aria-label="Shots" className="flex min-h-0 flex-col border-r border-line">
      <div className="flex justify-between px-4 pt-3.5 pb-2">
        <h2 className="font-[640]">Shots</h2>
        <span className="fig text-t3">{shots.length}</span>
      </div>
      <ul ref={list} className="min-h-0 flex-1 overflow-auto px-4 pt-1">
        {shots.map((s, i) => {
          const r = revisions.find((x) => x.id === s.revisionId);
          const on = s.id === current.id;
          const first = Number(/\d+/.exec(s.frames)?.[0] ?? 1);
          return (
            <li
              key={s.id}
              className="mb-3.5 [contain-intrinsic-size:auto_127px] [content-visibility:auto]"
            >
              <button
                className="block w-full text-left"
                aria-current={on}
                title="Alt and an arrow key move it in the cut"
                onClick={() => go({ shot: s.name })}
                onKeyDown={(e) => {
                  const way = e.altKey ? { ArrowUp: -1, ArrowDown: 1 }[e.key] : undefined;
                  if (way) {
                    e.preventDefault();
                    e.stopPropagation();
                    move(i, way);
                  }
                }}
              >
                <span
                  className={`block aspect-video overflow-hidden rounded-[3px] bg-well ${on ? 'outline-2 outline-mark' : 'outline-1 outline-line'} outline`}
                >
                  {r && (
                    <SlowPicture
                      url={cameraPicture(
                        r,
                        s.camera,
                        first,
                        208,
                        rigs?.find((g) => g.document.scene === r.scene)?.version,
                      )}
                      alt=""
                    />
                  )}
                </span>
                <span className="flex justify-between gap-2 pt-1">
                  <span className={`truncate ${on ? 'font-semibold' : 'text-t2'}`}>{s.name}</span>
                  <span className="fig shrink-0 text-t2">{s.frames}</span>
                </span>
                <span className="block truncate text-xs text-t3">through {s.camera}</span>
              </button>
            </li>
          );
        })}
      </ul>
      <div className="border-t border-line p-4">
        <AddShot label="Add a shot" />
        <CutButton />
        {shots.length > 1 && <RenameButton shots={shots} />}
      </div>
    </nav>
  );
}
