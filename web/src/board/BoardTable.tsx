import { useVirtualizer } from '@tanstack/react-virtual';
import {
  memo,
  useCallback,
  useEffect,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type ReactNode,
} from 'react';
import {
  cameraPicture,
  type RunStrand,
  type StrandEstimate,
  type StrandLedger,
} from '../api/client';
import { useOrderLayers } from '../api/layers';
import { useEstimates, useFrames, useLedger, useOrderShots, useRevisions } from '../api/queries';
import { useRigOf } from '../api/rigs';
import type { Layer, StrandView } from '../api/strands';
import { SlowPicture } from '../picture/SlowPicture';
import { useGo } from '../shell/address';
import { isOpen } from '../shell/batch';
import { isKnown, roughly, sumOf } from '../shell/estimate';
import { bytes, count, framesText } from '../shell/format';
import { columnsOf, countsOf, countsText, toRender } from '../shell/ledger';
import { useTell } from '../shell/Notices';
import { AddLayers } from '../shell/AddLayers';
import { AddShots } from './AddShots';
import { CheckFresh } from './CheckFresh';
import { PlanFile } from './PlanFile';
import { Box, Several, useSwitch, type Switch } from './Switch';
import { Skyline } from '../timeline/Skyline';

/** Width of a column, pixels. */
const COLUMN = 168;

/** Height of a row, pixels. */
const ROW = 97;

/** Width of what stands before the columns, pixels. */
const HEAD = 208;

/** How strands stand, by their keys. */
type Ledgers = Map<string, StrandLedger>;

/** Strands that are being rendered, by their keys. */
type Open = Map<string, RunStrand>;

/** What strands take, by their keys. */
type Estimates = Map<string, StrandEstimate>;

/** What is still to be rendered of strands, and what that takes. */
function sumsOf(some: StrandView[], estimates: Estimates, ledgers: Ledgers) {
  const known = some.flatMap((v) => estimates.get(keyOf(v)) ?? []);
  const ledger = some.flatMap((v) => ledgers.get(keyOf(v)) ?? []);
  return {
    frames: toRender(countsOf(ledger)),
    seconds:
      known.length === some.length && known.every(isKnown)
        ? sumOf(known.map((e) => e.seconds)).value
        : undefined,
    bytes:
      ledger.reduce((sum, l) => sum + l.bytes, 0) +
      known.reduce((sum, e) => sum + e.bytes.value, 0),
  };
}

function Sums({ frames, seconds, bytes: disk }: ReturnType<typeof sumsOf>) {
  return (
    <span className="fig [&>*]:whitespace-nowrap">
      <span>{frames === 0 ? 'all fresh' : `${count(frames)} to render`}</span>
      {frames > 0 && seconds !== undefined && (
        <>
          {' '}
          · <span>{roughly(seconds)}</span>
        </>
      )}
      {disk > 0 && (
        <>
          {' '}
          · <span>{bytes(disk)}</span>
        </>
      )}
    </span>
  );
}

const keyOf = (v: StrandView) => `${v.shot.id}-${v.layer.id}`;

/** The same in another order; undefined if there is no place to go to. */
function moved(ids: number[], at: number, by: number): number[] | undefined {
  const to = at + by;
  if (to < 0 || to >= ids.length) {
    return undefined;
  }
  const some = ids.filter((_, i) => i !== at);
  some.splice(to, 0, ids[at]!);
  return some;
}

/** The table of shots against layers. */
export function BoardTable({
  rows,
  layers,
  runs,
  current,
}: {
  rows: StrandView[][];
  layers: Layer[];
  runs: RunStrand[];
  current: StrandView | undefined;
}) {
  const go = useGo();
  const toggle = useSwitch();
  const told = useLedger().data;
  const ledgers = useMemo<Ledgers>(
    () => new Map(told?.map((l) => [`${l.shotId}-${l.layerId}`, l])),
    [told],
  );
  const said = useEstimates().data;
  const estimates = useMemo<Estimates>(
    () => new Map(said?.map((e) => [`${e.shotId}-${e.layerId}`, e])),
    [said],
  );
  const open = useMemo<Open>(
    () => new Map(runs.filter(isOpen).map((r) => [`${r.shotId}-${r.layerId}`, r])),
    [runs],
  );
  const grid = useRef<HTMLTableElement>(null);
  const [scroll, setScroll] = useState<HTMLElement | null>(null);
  const { mutate: putOrder } = useOrderShots();
  const tell = useTell();
  const order = useCallback(
    (at: number, by: number) => {
      const ids = moved(
        rows.flatMap((r) => r[0]?.shot.id ?? []),
        at,
        by,
      );
      if (ids) {
        putOrder(ids, { onError: (e) => tell(e.message, { bad: true }) });
      }
    },
    [rows, putOrder, tell],
  );
  const { mutate: putLayers } = useOrderLayers();
  const orderLayers = (at: number, by: number) => {
    const ids = moved(
      layers.map((l) => l.id),
      at,
      by,
    );
    if (ids) {
      putLayers(ids, { onError: (e) => tell(e.message, { bad: true }) });
    }
  };
  const choose = useCallback(
    (v: StrandView) => go({ station: 'board', shot: v.shot.name, layer: v.layer.name }),
    [go],
  );
  const keys = (e: KeyboardEvent) => {
    if (!(e.target as HTMLElement).dataset.cell) {
      return;
    }
    const at = rows.findIndex((r) => r.some((v) => v === current));
    const column = rows[at]?.findIndex((v) => v === current) ?? 0;
    const move: Record<string, [number, number]> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
    };
    const by = move[e.key];
    const next = by && rows[at + by[0]]?.[column + by[1]];
    if (next) {
      choose(next);
      const cell = grid.current?.querySelector<HTMLElement>(`[data-cell="${keyOf(next)}"]`);
      cell?.focus();
    } else if (e.key === ' ' && current) {
      toggle.put([current], !current.strand.on);
    }
    if (by || e.key === ' ') {
      e.preventDefault();
      // Here they are not the playhead's.
      e.stopPropagation();
    }
  };
  const all = rows.flat();
  const on = all.filter((v) => v.strand.on);
  const columns = useColumns(layers, scroll, current);
  return (
    <section ref={setScroll} aria-label="Board" className="min-h-0 overflow-auto bg-well px-5 pb-4">
      <table
        ref={grid}
        role="grid"
        aria-label="Strands"
        aria-rowcount={rows.length + 1}
        aria-colcount={layers.length + 2}
        className="border-separate border-spacing-0"
        onKeyDown={keys}
      >
        <thead className="sticky top-0 z-10 bg-well">
          <tr>
            <th
              aria-colindex={1}
              className="sticky left-0 w-52 min-w-52 border-b border-line bg-well py-3 pr-3 text-left align-bottom font-normal"
            >
              <Several name="all strands" some={all} toggle={toggle} />
              <span className="fig ml-2 text-t2">
                {count(on.length)} of {count(all.length)} on
              </span>
              <span className="block pl-8 text-xs text-t2">
                {on.length > 0 && <Sums {...sumsOf(on, estimates, ledgers)} />}
              </span>
            </th>
            <Across columns={columns}>
              {(at) => (
                <LayerHead
                  key={layers[at]!.id}
                  at={at}
                  move={(by) => orderLayers(at, by)}
                  layer={layers[at]!}
                  some={all.filter((v) => v.layer.id === layers[at]!.id)}
                  estimates={estimates}
                  ledgers={ledgers}
                  toggle={toggle}
                />
              )}
            </Across>
            <th className="border-b border-line py-3 pl-2 text-left align-bottom font-normal">
              <AddLayers like={current?.layer ?? layers[0]} />
            </th>
          </tr>
        </thead>
        <tbody>
          <Rows
            rows={rows}
            scroll={scroll}
            columns={columns}
            order={order}
            runs={open}
            estimates={estimates}
            ledgers={ledgers}
            current={current}
            toggle={toggle}
            choose={choose}
          />
        </tbody>
      </table>
      <AddShots />
      <PlanFile />
      <CheckFresh />
    </section>
  );
}

/** The columns that are in sight, by their places from 0, and what is out of sight beside them, pixels. */
type Columns = { shown: number[]; before: number; after: number };

/** The columns that are in sight, and one more at each side. */
function useColumns(
  layers: Layer[],
  scroll: HTMLElement | null,
  current: StrandView | undefined,
): Columns {
  // What it returns is used here alone, and anew at each turn.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    horizontal: true,
    count: layers.length,
    getScrollElement: () => scroll,
    estimateSize: () => COLUMN,
    scrollPaddingStart: HEAD,
    overscan: 1,
  });
  const at = layers.findIndex((l) => l.id === current?.layer.id);
  useEffect(() => {
    if (at >= 0) {
      virtual.scrollToIndex(at, { align: 'auto' });
    }
    // As with rows: only what is chosen moves the table.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [at, scroll]);
  const some = virtual.getVirtualItems();
  const from = some[0]?.index ?? 0;
  const to = some.at(-1)?.index ?? -1;
  return useMemo(
    () => ({
      shown: Array.from({ length: to - from + 1 }, (_, i) => from + i),
      before: from * COLUMN,
      after: (layers.length - 1 - to) * COLUMN,
    }),
    [from, to, layers.length],
  );
}

/** What stands in the columns that are in sight, between stands-in for the others. */
function Across({
  columns: { shown, before, after },
  children,
}: {
  columns: Columns;
  children: (at: number) => ReactNode;
}) {
  const gap = (width: number) =>
    width > 0 && <td aria-hidden="true" className="p-0" style={{ minWidth: width }} />;
  return (
    <>
      {gap(before)}
      {shown.map(children)}
      {gap(after)}
    </>
  );
}

type Rest = {
  columns: Columns;
  /** Takes the shot of a row up or down. */
  order: (at: number, by: number) => void;
  runs: Open;
  estimates: Estimates;
  ledgers: Ledgers;
  current: StrandView | undefined;
  toggle: Switch;
  choose: (v: StrandView) => void;
};

/** The rows that are in sight, and a few more. */
function Rows({
  rows,
  scroll,
  current,
  ...rest
}: { rows: StrandView[][]; scroll: HTMLElement | null } & Rest) {
  // What it returns is used here alone, and anew at each turn.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll,
    estimateSize: () => ROW,
    overscan: 3,
  });
  const shown = virtual.getVirtualItems();
  const at = rows.findIndex((r) => r[0]?.shot.id === current?.shot.id);
  useEffect(() => {
    if (at >= 0) {
      virtual.scrollToIndex(at, { align: 'auto' });
    }
    // The row that is chosen comes into sight, and nothing else moves the table.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [at, scroll]);
  return (
    <>
      <Gap height={shown[0]?.start ?? 0} />
      {shown.map(({ index }) => (
        <ShotRow
          key={rows[index]![0]?.shot.id}
          at={index}
          strands={rows[index]!}
          current={index === at ? current : undefined}
          {...rest}
        />
      ))}
      <Gap height={virtual.getTotalSize() - (shown.at(-1)?.end ?? 0)} />
    </>
  );
}

/** Stands for rows that are out of sight. */
function Gap({ height }: { height: number }) {
  return height > 0 ? <tr aria-hidden="true" style={{ height }} /> : null;
}

function Arrow({
  name,
  turn = 0,
  onClick,
}: {
  name: string;
  /** Degrees from pointing down. */
  turn?: number;
  onClick: () => void;
}) {
  return (
    <button
      aria-label={name}
      title={name}
      tabIndex={-1}
      className="grid h-6 w-6 place-items-center hover:text-t1"
      onClick={onClick}
    >
      <svg width="8" height="5" aria-hidden="true" style={{ rotate: `${turn}deg` }}>
        <path d="M0 0h8L4 5z" fill="currentColor" />
      </svg>
    </button>
  );
}

function LayerHead({
  at,
  move,
  layer,
  some,
  estimates,
  ledgers,
  toggle,
}: {
  /** Its place among the layers, from 0. */
  at: number;
  /** Takes the layer left or right. */
  move: (by: number) => void;
  layer: Layer;
  some: StrandView[];
  estimates: Estimates;
  ledgers: Ledgers;
  toggle: Switch;
}) {
  const { passes } = layer.document;
  const on = some.filter((v) => v.strand.on);
  return (
    <th
      scope="col"
      aria-colindex={at + 2}
      className="group border-b border-line py-3 pr-2 text-left align-bottom font-normal"
      style={{ minWidth: COLUMN, maxWidth: COLUMN }}
    >
      <span className="flex items-center">
        <Several name={`layer ${layer.name}`} some={some} toggle={toggle} />
        <span className="truncate font-[640]">{layer.name}</span>
        <span className="ml-auto flex text-t3 opacity-0 group-hover:opacity-100 focus-within:opacity-100">
          <Arrow name={`Move layer ${layer.name} left`} turn={90} onClick={() => move(-1)} />
          <Arrow name={`Move layer ${layer.name} right`} turn={-90} onClick={() => move(1)} />
        </span>
      </span>
      <span className="block pl-1 text-xs text-t2">
        {passes.wanted.length === 1 ? '1 pass' : `${passes.wanted.length} passes`}
        {on.length > 0 && (
          <span className="block">
            <Sums {...sumsOf(on, estimates, ledgers)} />
          </span>
        )}
      </span>
    </th>
  );
}

/** A shot with its strands; drawn anew only if something of it changes. */
const ShotRow = memo(function ShotRow({
  at,
  strands,
  columns,
  order,
  runs,
  estimates,
  ledgers,
  current,
  toggle,
  choose,
}: {
  /** Its place among the rows, from 0. */
  at: number;
  strands: StrandView[];
} & Rest) {
  const shot = strands[0]!.shot;
  const revision = useRevisions().data?.find((r) => r.id === shot.revisionId);
  const rig = useRigOf(revision)?.version;
  const first = Number(/\d+/.exec(shot.frames)?.[0] ?? 1);
  const asked = useFrames(shot.frames).data?.count ?? 0;
  const on = strands.filter((v) => v.strand.on);
  const sums = sumsOf(on, estimates, ledgers);
  return (
    <tr className="group" style={{ height: ROW }} aria-rowindex={at + 2}>
      <th
        scope="row"
        aria-colindex={1}
        className="sticky left-0 z-[1] border-b border-line bg-well py-2.5 pr-3 text-left align-top font-normal"
      >
        <span className="flex gap-2">
          <Several name={`shot ${shot.name}`} some={strands} toggle={toggle} />
          <span className="block h-[45px] w-20 shrink-0 overflow-hidden rounded-[2px] bg-bg">
            {revision && (
              <SlowPicture url={cameraPicture(revision, shot.camera, first, 208, rig)} alt="" />
            )}
          </span>
          <span className="min-w-0">
            <button
              className="block max-w-full truncate text-left font-[640]"
              title="Choose this shot"
              onClick={() => choose((on[0] ?? strands[0])!)}
            >
              {shot.name}
            </button>
            <span
              className="block truncate text-t2"
              title={`${shot.frames} through ${shot.camera}`}
            >
              <span className="fig">{shot.frames}</span> {shot.camera}
            </span>
            <span className="flex gap-1 text-t3 opacity-0 group-hover:opacity-100 focus-within:opacity-100">
              <Arrow name={`Move shot ${shot.name} up`} turn={180} onClick={() => order(at, -1)} />
              <Arrow name={`Move shot ${shot.name} down`} onClick={() => order(at, 1)} />
            </span>
          </span>
        </span>
      </th>
      <Across columns={columns}>
        {(at) => {
          const v = strands[at]!;
          return (
            <Cell
              key={v.layer.id}
              at={at}
              strand={v}
              runs={runs}
              ledger={ledgers.get(keyOf(v))}
              estimate={estimates.get(keyOf(v))}
              count={asked}
              current={v === current}
              toggle={toggle}
              choose={choose}
            />
          );
        }}
      </Across>
      <td className="fig border-b border-line py-2.5 pl-2 align-top whitespace-nowrap text-t2">
        {on.length > 0 && <Sums {...sums} />}
      </td>
    </tr>
  );
});

/** A strand: whether it is on, how its frames stand and what is still to be rendered of it. */
function Cell({
  at,
  strand,
  runs,
  ledger,
  estimate,
  count: asked,
  current,
  toggle,
  choose,
}: {
  /** Its place among the layers, from 0. */
  at: number;
  strand: StrandView;
  runs: Open;
  ledger: StrandLedger | undefined;
  estimate: StrandEstimate | undefined;
  count: number;
  current: boolean;
  toggle: Switch;
  choose: (v: StrandView) => void;
}) {
  const { shot, layer } = strand;
  const { on } = strand.strand;
  const run = runs.get(keyOf(strand));
  const columns = useMemo(() => (ledger ? columnsOf(ledger) : []), [ledger]);
  const counts = ledger && countsOf([ledger]);
  const left = counts ? toRender(counts) : asked;
  return (
    <td
      role="gridcell"
      aria-colindex={at + 2}
      className="border-b border-line py-2 pr-1.5 pl-0.5 align-top"
    >
      <div
        className={`relative h-[78px] rounded-[3px] ${current ? 'outline-2 outline-mark' : 'outline-1'} ${on ? `bg-up ${current ? '' : 'outline-line'}` : `outline-dashed ${current ? '' : 'outline-line'}`} outline`}
      >
        <button
          data-cell={keyOf(strand)}
          aria-label={`${shot.name}, layer ${layer.name}, ${on ? 'on' : 'off'}`}
          aria-current={current}
          tabIndex={current ? 0 : -1}
          className="absolute inset-0 h-full w-full"
          title={ledger?.reasons.map((r) => `${r.frames}: ${r.text}`).join('\n')}
          onClick={() => choose(strand)}
        />
        <span className="pointer-events-none relative flex items-center justify-between pr-2">
          <span className="pointer-events-auto">
            <Box
              name={`Switch ${shot.name}, layer ${layer.name} ${on ? 'off' : 'on'}`}
              state={on}
              {...toggle.paint(strand)}
            />
          </span>
          {on && (
            <span className="fig text-xs">
              {run
                ? run.state === 'PAUSED'
                  ? 'paused'
                  : 'rendering'
                : left === 0
                  ? bytes(ledger?.bytes ?? 0)
                  : estimate && isKnown(estimate)
                    ? roughly(estimate.seconds.value)
                    : framesText(left)}
            </span>
          )}
        </span>
        {on && (
          <>
            <Skyline
              columns={columns}
              className="pointer-events-none absolute inset-x-2 bottom-5.5 h-7 w-[calc(100%-1rem)]"
            />
            <span className="pointer-events-none absolute inset-x-2 bottom-1 truncate text-xs text-t2">
              {counts && countsText(counts)}
            </span>
          </>
        )}
      </div>
    </td>
  );
}
