import type { ReactNode } from 'react';
import type { Revision } from '../api/client';
import { useAddShot, useChangeProduction, useProduction, useShots } from '../api/queries';
import { useGo } from '../shell/address';
import { Against } from './Against';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import {
  bytes,
  clipFrames,
  count,
  metres,
  rateText,
  revision as revisionText,
  span,
} from '../shell/format';
import { useTell } from '../shell/Notices';
import { Panel } from '../shell/Panel';
import { Row } from '../shell/Row';

const RATES = [23.976, 24, 25, 29.97, 30, 48, 50, 60];

/** What is in the file, and what was odd about it. */
export function Report({
  revision,
  revisions,
  tabs,
  onChoose,
  onPick,
}: {
  revision: Revision;
  revisions: Revision[];
  tabs: ReactNode;
  onChoose: (id: number) => void;
  onPick: () => void;
}) {
  const r = revision.report;
  const rate = useProduction().data?.frameRate ?? 24;
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
      </div>
      <h2 className="mt-4 mb-1 font-[640]">Animation</h2>
      {r.animations.length === 0 && (
        <p className="text-t2">Static: nothing is animated in this scene.</p>
      )}
      {r.animations.map((a) => (
        <div key={a.name} className="flex justify-between gap-3 border-b border-line py-1">
          <span className="truncate">{a.name}</span>
          <span className="fig text-right text-t2">
            {(a.end - a.start).toFixed(2)} s · {span(clipFrames([a], rate)!)}
          </span>
        </div>
      ))}
      <Against revision={revision} revisions={revisions} />
      <Findings title="Missing files" items={r.missing} bad />
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

function Findings({
  title,
  items,
  bad = false,
}: {
  title: string;
  items: string[];
  bad?: boolean;
}) {
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
              {bad ? (
                <path
                  d="M1 1h12v12H1zM3.5 3.5l7 7m0-7l-7 7"
                  fill="none"
                  stroke="var(--bad)"
                  strokeWidth="1.5"
                />
              ) : (
                <circle
                  cx="7"
                  cy="7"
                  r="6"
                  fill="none"
                  stroke="var(--t1)"
                  strokeWidth="1.5"
                  strokeDasharray="1.6 2"
                />
              )}
            </svg>
            <span className="min-w-0 break-words">{t}</span>
          </li>
        ))}
      </ul>
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
