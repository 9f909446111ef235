import type { ReactNode } from 'react';
import type { Revision } from '../api/client';
import { useAddShot, useChangeProduction, useProduction, useShots } from '../api/queries';
import { useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { bytes, count, metres, rateText, revision as revisionText } from '../shell/format';
import { useTell } from '../shell/Notices';
import { Panel } from '../shell/Panel';
import { Row } from '../shell/Row';
import { useWaiting } from '../api/revisions';
import { Against } from './Against';
import { Clips, MissingFiles, SizeRows, useRead } from './Remedies';

const RATES = [23.976, 24, 25, 29.97, 30, 48, 50, 60];

/** Going to another revision of a scene. */
export type Taking = { to: Revision; from: Revision; how: 'take' | 'use' };

/** What is in the file, and what was odd about it. */
export function Report({
  revision,
  revisions,
  tabs,
  onChoose,
  onPick,
  onTake,
}: {
  revision: Revision;
  revisions: Revision[];
  tabs: ReactNode;
  onChoose: (id: number) => void;
  onPick: () => void;
  onTake: (t: Taking) => void;
}) {
  const r = revision.report;
  const read = useRead(revision);
  return (
    <Panel label="Report" actions={<Actions revision={revision} onPick={onPick} />}>
      {tabs}
      <Choice
        label="Revision"
        value={revision.id}
        options={revisions.map((x) => ({
          value: x.id,
          label: `${x.scene} ${revisionText(x.number)}`,
          hint: new Date(x.importedAt).toLocaleDateString(),
        }))}
        onChange={onChoose}
      />
      <Used revision={revision} revisions={revisions} onTake={onTake} />
      <div className="mt-1.5">
        <Row name="File" hint={bytes(r.fileBytes)}>
          <span className="block truncate" title={r.file}>
            {r.file}
          </span>
        </Row>
        <Row name="Objects" hint={`${metres(r.sizeMetres)} across`}>
          {count(r.objects)}
        </Row>
        <Row name="Triangles" hint={`${count(r.storedTriangles)} in memory`}>
          {count(r.triangles)}
        </Row>
        <Row name="Materials" hint={`${r.textures} textures`}>
          {r.materials}
        </Row>
        <Row name="Lights" hint="punctual">
          {r.lights}
        </Row>
        <Row name="Memory" hint="and the picture">
          {bytes(r.memoryBytes)}
        </Row>
        <RateRow />
        <SizeRows read={read} />
      </div>
      <h2 className="mt-4 mb-1 font-[640]">Animation</h2>
      <Clips animations={r.animations} read={read} />
      <Against revision={revision} revisions={revisions} />
      <MissingFiles missing={r.missing} read={read} />
      <Findings title="Remarks" items={r.remarks} />
      {r.missing.length + r.remarks.length === 0 && (
        <p className="mt-4 text-t2">Nothing missing, nothing odd.</p>
      )}
    </Panel>
  );
}

function RateRow() {
  const production = useProduction().data;
  const change = useChangeProduction();
  if (!production) {
    return null;
  }
  const rates = RATES.includes(production.frameRate) ? RATES : [production.frameRate, ...RATES];
  return (
    <Row name="Rate" hint="of the production">
      <Choice
        label="Frame rate"
        value={production.frameRate}
        options={rates.map((f) => ({ value: f, label: rateText(f) }))}
        onChange={(frameRate) => change.mutate({ ...production, frameRate })}
      />
    </Row>
  );
}

function Findings({ title, items }: { title: string; items: string[] }) {
  if (items.length === 0) {
    return null;
  }
  return (
    <>
      <h2 className="mt-4 mb-1 font-[640]">
        {title} <span className="fig text-t2">{items.length}</span>
      </h2>
      <ul>
        {items.map((t) => (
          <li key={t} className="flex gap-2.5 border-b border-line py-1.5 leading-4.5">
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
            <span className="min-w-0 break-words">{t}</span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** Which revision the scene's shots are of, and a way to another. */
function Used({
  revision,
  revisions,
  onTake,
}: {
  revision: Revision;
  revisions: Revision[];
  onTake: (t: Taking) => void;
}) {
  const shots = useShots().data ?? [];
  const waiting = (useWaiting() ?? []).filter((r) => r.scene === revision.scene);
  const same = revisions.filter((r) => r.scene === revision.scene);
  const used = same.filter((r) => shots.some((s) => s.revisionId === r.id));
  const now = used[0] ?? same[0] ?? revision;
  const count = (r: Revision) => shots.filter((s) => s.revisionId === r.id).length;
  return (
    <>
      {waiting.map((r) => (
        <div key={r.id} className="mt-2 flex items-baseline gap-3 border-l-2 border-mark pl-2.5">
          <span className="min-w-0 flex-1">{revisionText(r.number)} has arrived.</span>
          <button
            className="min-h-6 underline underline-offset-3"
            onClick={() => onTake({ to: r, from: now, how: 'take' })}
          >
            see what changes
          </button>
        </div>
      ))}
      {same.length > 1 && used.some((r) => r.id !== revision.id) && (
        <div className="mt-2 flex items-baseline gap-3">
          <span className="min-w-0 flex-1 text-t2">
            {used
              .map(
                (r) =>
                  `${count(r)} ${count(r) === 1 ? 'shot is' : 'shots are'} of ${revisionText(r.number)}`,
              )
              .join(', ')}
          </span>
          <button
            className="min-h-6 underline underline-offset-3"
            onClick={() =>
              onTake({ to: revision, from: used.find((r) => r.id !== revision.id)!, how: 'use' })
            }
          >
            use {revisionText(revision.number)}
          </button>
        </div>
      )}
    </>
  );
}

function Actions({ revision, onPick }: { revision: Revision; onPick: () => void }) {
  const shots = useShots().data ?? [];
  const add = useAddShot();
  const tell = useTell();
  const go = useGo();
  const first = revision.report.cameras[0];
  const own = shots.find((s) => s.revisionId === revision.id);
  const make = async () => {
    try {
      const shot = own ?? (await add.mutateAsync({ revisionId: revision.id, camera: first!.name }));
      go({ station: 'shots', shot: shot.name });
    } catch (e) {
      tell((e as Error).message, { bad: true });
    }
  };
  return (
    <>
      <Button main onClick={() => void make()}>
        {own ? 'Go to shots' : 'Make a shot'}
      </Button>
      <Button onClick={onPick}>Import</Button>
    </>
  );
}
