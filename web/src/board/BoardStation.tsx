import { useMemo } from 'react';
import { Tab, TabGroup, TabList, TabPanel, TabPanels } from '@headlessui/react';
import { useChecks, useProofs, useRunStrands, useShots } from '../api/queries';
import { strandView, useStrandParts, type StrandView } from '../api/strands';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { useCurrentShot } from '../shell/current';
import { count } from '../shell/format';
import { AddShots } from './AddShots';
import { BoardTable } from './BoardTable';
import { Checks } from './Checks';
import { ProofSheet } from './ProofSheet';
import { StrandPanel } from './StrandPanel';
import { WhatIfView } from './WhatIfView';

/** Shots down, layers across, a strand in each cell. */
export default function BoardStation() {
  const shots = useShots().data;
  const parts = useStrandParts();
  const runs = useRunStrands().data;
  const shot = useCurrentShot();
  const { layer, view } = usePlace() ?? {};
  const rows = useMemo(
    () =>
      shots && parts
        ? shots.map((s) =>
            parts.layers.map((l) => strandView(s, l, parts)).filter((v) => v !== undefined),
          )
        : [],
    [shots, parts],
  );
  if (!shots || !parts || !runs) {
    return <main />;
  }
  if (!shot) {
    return <NoShots />;
  }
  const row = rows.find((r) => r[0]?.shot.id === shot.id);
  const current = row?.find((v) => v.layer.name === layer) ?? row?.[0];
  return (
    <main className="grid min-h-0 grid-cols-[minmax(0,1fr)_300px]">
      <div className="flex min-h-0 flex-col bg-well [&>section]:flex-1">
        <Views on={rows.flat().filter((v) => v.strand.on).length} />
        {view === 'proofs' ? (
          <ProofSheet rows={rows} />
        ) : view === 'whatif' ? (
          <WhatIfView rows={rows} />
        ) : (
          <BoardTable rows={rows} layers={parts.layers} runs={runs} current={current} />
        )}
      </div>
      {current && <Beside current={current} rows={rows} />}
    </main>
  );
}

/** What the Board shows at the left. */
function Views({ on }: { on: number }) {
  const go = useGo();
  const view = usePlace()?.view;
  const proofs = useProofs().data ?? [];
  const approved = proofs.filter((p) => p.outcome === 'APPROVED').length;
  const all = [
    { to: undefined, name: 'Table', more: '' },
    { to: 'proofs', name: 'Proofs', more: on > 0 ? `${count(approved)} of ${count(on)}` : '' },
    { to: 'whatif', name: 'What if', more: '' },
  ] as const;
  return (
    <nav aria-label="Views of the Board" className="flex gap-5 border-b border-line px-5 pt-1">
      {all.map(({ to, name, more }) => (
        <button
          key={name}
          aria-current={view === to ? 'page' : undefined}
          className={`min-h-8 border-b-2 ${view === to ? 'border-mark font-semibold' : 'border-transparent text-t2 hover:text-t1'}`}
          onClick={() => go({ view: to })}
        >
          {name} {more && <span className="fig ml-1 font-normal text-t2">{more}</span>}
        </button>
      ))}
    </nav>
  );
}

function NoShots() {
  const go = useGo();
  return (
    <main className="grid place-items-center bg-well">
      <div className="text-center">
        <p className="big mb-2">No shots yet</p>
        <p className="mb-5 text-t2">
          The Board has a row for each shot and a column for each layer.
        </p>
        <Button main onClick={() => go({ station: 'shots' })}>
          Go to Shots
        </Button>
        <div className="mt-2">
          <AddShots />
        </div>
      </div>
    </main>
  );
}

/** The chosen strand, or what is wrong with all that are on. */
function Beside({ current, rows }: { current: StrandView; rows: StrandView[][] }) {
  const found = useChecks().data?.findings.filter((f) => f.severity !== 'NOTE').length ?? 0;
  return (
    <TabGroup className="flex min-h-0 flex-col">
      <TabList className="flex gap-4 border-b border-l border-line px-4.5 pt-1">
        <Tab className={TAB}>Strand</Tab>
        <Tab className={TAB}>
          Before it starts {found > 0 && <span className="fig ml-1">{found}</span>}
        </Tab>
      </TabList>
      <TabPanels className="flex min-h-0 flex-1 flex-col [&>*]:flex [&>*]:min-h-0 [&>*]:flex-1 [&>*]:flex-col">
        <TabPanel>
          <StrandPanel
            key={`${current.shot.id}-${current.layer.id}`}
            strand={current}
            rows={rows}
          />
        </TabPanel>
        <TabPanel>
          <Checks strand={current} rows={rows} />
        </TabPanel>
      </TabPanels>
    </TabGroup>
  );
}

const TAB =
  'min-h-8 border-b-2 border-transparent text-t2 data-selected:border-mark data-selected:font-semibold data-selected:text-t1';
