import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import type { LayerRoles } from '../api/client';
import { useRoles } from '../api/layers';
import type { Layer } from '../api/strands';
import { useGo } from '../shell/address';
import { Choice } from '../shell/Choice';
import { useCurrentShot } from '../shell/current';
import { count } from '../shell/format';
import { Brushes, ByPattern, Unfit } from './Brushes';
import { isOwn, RoleMark, ROLES, said, type Brush } from './roles';
import { kindText, listed, openAtFirst, patternOf, type Item, type Which } from '../shell/tree';
import { usePainting, type Painted } from './usePainting';

/** Height of a row, and widths of the columns, pixels. */
const ROW = 30;
const NAME = 190;
const COLUMN = 58;

/** The objects of the scene with a column for each layer and the role in each cell. */
export function ObjectTable({
  items,
  loading,
  revision,
  layers,
  current,
  chosen,
  onChoose,
  onPoint,
}: {
  items: Item[];
  loading: boolean;
  revision: number;
  layers: Layer[];
  current: Layer;
  /** Nodes of the chosen objects. */
  chosen: ReadonlySet<number>;
  onChoose: (nodes: ReadonlySet<number>) => void;
  /** Hears the node that the pointer is over. */
  onPoint: (node: number | undefined) => void;
}) {
  const go = useGo();
  const shot = useCurrentShot()?.name;
  const [text, setText] = useState('');
  const [which, setWhich] = useState<Which>('all');
  const [opened, setOpened] = useState<ReadonlySet<number>>();
  const [brush, setBrush] = useState<Brush>('S');
  const first = useMemo(() => openAtFirst(items), [items]);
  const open = opened ?? first;
  const rows = useMemo(() => listed(items, open, text, which), [items, open, text, which]);
  const roles = useRoles(layers, revision);
  const painting = usePainting(revision, brush, items);
  const [scroll, setScroll] = useState<HTMLElement | null>(null);
  // What it returns is used here alone, and anew at each turn.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll,
    estimateSize: () => ROW,
    overscan: 6,
  });
  const last = useRef<number>(undefined);
  const cursor = rows.findIndex((r) => r.object.node === last.current && chosen.has(last.current));
  const showRow = (node: number) => {
    const at = rows.findIndex((r) => r.object.node === node);
    if (at >= 0) {
      virtual.scrollToIndex(at, { align: 'auto' });
    }
  };
  // What was chosen in the picture comes into sight, with all above it opened.
  useEffect(() => {
    const only = chosen.size === 1 ? [...chosen][0]! : undefined;
    if (only === undefined || only === last.current) {
      return;
    }
    last.current = only;
    const at = items.findIndex((i) => i.object.node === only);
    const above = new Set(open);
    for (let p = items[at]?.object.parent ?? -1; p >= 0; p = items[p]!.object.parent) {
      above.add(items[p]!.object.node);
    }
    setOpened(above);
    const place = listed(items, above, text, which).findIndex((i) => i.object.node === only);
    if (place >= 0) {
      virtual.scrollToIndex(place, { align: 'center' });
    }
    // Only another choice moves the table.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen]);
  const choose = (item: Item, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => {
    const { node } = item.object;
    const from = rows.findIndex((r) => r.object.node === last.current);
    if (e.shiftKey && from >= 0) {
      const to = rows.indexOf(item);
      const some = rows.slice(Math.min(from, to), Math.max(from, to) + 1);
      onChoose(new Set([...chosen, ...some.map((r) => r.object.node)]));
      return;
    }
    last.current = node;
    if (e.ctrlKey || e.metaKey) {
      const next = new Set(chosen);
      if (!next.delete(node)) {
        next.add(node);
      }
      onChoose(next);
    } else {
      onChoose(new Set([node]));
    }
  };
  const toggle = (node: number, wanted?: boolean) => {
    const next = new Set(open);
    if (wanted ?? !next.has(node)) {
      next.add(node);
    } else {
      next.delete(node);
    }
    setOpened(next);
  };
  const keys = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey || (e.target as HTMLElement).closest('input')) {
      return;
    }
    const letter = ROLES.find((r) => r.letter === e.key.toUpperCase())?.letter;
    const at = cursor < 0 ? 0 : cursor;
    const item = rows[at];
    if (letter || e.key === 'Backspace') {
      painting.say(current, [...chosen], letter ?? 'inherit');
    } else if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
      const next = rows[cursor < 0 ? 0 : at + (e.key === 'ArrowDown' ? 1 : -1)];
      if (next) {
        choose(next, { ...e, shiftKey: false, ctrlKey: e.shiftKey, metaKey: false });
        showRow(next.object.node);
      }
    } else if (e.key === 'ArrowRight' && item) {
      toggle(item.object.node, true);
    } else if (e.key === 'ArrowLeft' && item) {
      toggle(item.object.node, false);
    } else {
      return;
    }
    e.preventDefault();
    // Here they are not the playhead's.
    e.stopPropagation();
  };
  const columns = `minmax(${NAME}px, 1fr) repeat(${layers.length}, ${COLUMN}px)`;
  const found = text.trim() !== '';
  return (
    <section aria-label="Objects" className="flex min-h-0 flex-col border-r border-line">
      <div className="flex items-center gap-3 px-4 pt-3">
        <input
          type="search"
          aria-label="Find an object or a pattern"
          placeholder="find an object or a pattern"
          value={text}
          spellCheck={false}
          onChange={(e) => setText(e.target.value)}
          className="min-w-0 flex-1 border-b border-line bg-transparent py-1 placeholder:text-t3 focus:border-t2 focus:outline-none"
        />
        <Choice
          label="Which objects"
          value={which}
          options={[
            { value: 'all', label: 'all' },
            { value: 'meshes', label: 'meshes' },
            { value: 'lights', label: 'lights' },
            { value: 'moving', label: 'moving' },
            { value: 'still', label: 'still' },
          ]}
          onChange={setWhich}
        />
        <span className="fig text-t3">{count(rows.length)}</span>
      </div>
      {found && (
        <ByPattern
          pattern={patternOf(text)}
          fitting={rows.length}
          layer={current}
          onSay={(b) => painting.sayOf(current, [patternOf(text)], b)}
        />
      )}
      <div
        ref={setScroll}
        role="treegrid"
        aria-label="Objects and what layers make of them"
        aria-rowcount={rows.length + 1}
        aria-multiselectable="true"
        tabIndex={0}
        onKeyDown={keys}
        onPointerLeave={() => onPoint(undefined)}
        className="mt-1 min-h-0 flex-1 overflow-auto focus-visible:outline-offset-[-2px]"
      >
        <div
          role="row"
          className="sticky top-0 z-10 grid items-end border-b border-line bg-bg"
          style={{ gridTemplateColumns: columns, width: 'max-content', minWidth: '100%' }}
        >
          <span role="columnheader" className="sticky left-0 bg-bg px-4 pb-1.5 text-xs text-t3">
            object
          </span>
          {layers.map((l) => (
            <span role="columnheader" key={l.id} aria-selected={l.id === current.id}>
              <button
                className={`line-clamp-2 min-h-7 w-full px-1 pb-1 text-center text-xs leading-tight [overflow-wrap:anywhere] ${l.id === current.id ? 'border-b-2 border-mark bg-up font-semibold' : 'border-b-2 border-transparent text-t2 hover:text-t1'}`}
                title={`Look at layer ${l.name}`}
                tabIndex={-1}
                onClick={() => go({ shot, layer: l.name })}
              >
                {l.name}
              </button>
            </span>
          ))}
        </div>
        <div
          className="relative"
          style={{ height: virtual.getTotalSize(), width: 'max-content', minWidth: '100%' }}
        >
          <div style={{ width: NAME + COLUMN * layers.length, height: 0 }} />
          {virtual.getVirtualItems().map(({ index, start }) => {
            const item = rows[index]!;
            return (
              <ObjectRow
                key={item.object.node}
                item={item}
                flat={found || which !== 'all'}
                index={index}
                top={start}
                columns={columns}
                open={open.has(item.object.node)}
                chosen={chosen.has(item.object.node)}
                roles={roles}
                painted={painting.painted}
                layers={layers}
                current={current}
                nameOf={painting.nameOf}
                onChoose={choose}
                onToggle={toggle}
                onPoint={onPoint}
                paint={painting.paint}
              />
            );
          })}
          {rows.length === 0 && (
            <p className="px-4 py-3 text-t3">
              {loading ? 'The objects are being read …' : 'No object fits.'}
            </p>
          )}
        </div>
      </div>
      <Unfit layer={current} roles={roles[layers.indexOf(current)]} />
      <Brushes
        brush={brush}
        onBrush={setBrush}
        like={current}
        objects={[...chosen].map(painting.nameOf)}
      />
    </section>
  );
}

type RowProps = {
  item: Item;
  /** True if it is not listed below what is above it. */
  flat: boolean;
  index: number;
  top: number;
  columns: string;
  open: boolean;
  chosen: boolean;
  roles: (LayerRoles | undefined)[];
  painted: Painted;
  layers: Layer[];
  current: Layer;
  nameOf: (node: number) => string;
  onChoose: (item: Item, e: { shiftKey: boolean; ctrlKey: boolean; metaKey: boolean }) => void;
  onToggle: (node: number) => void;
  onPoint: (node: number) => void;
  paint: (layer: Layer, node: number, begins: boolean) => void;
};

const ObjectRow = memo(function ObjectRow({
  item,
  flat,
  index,
  top,
  columns,
  open,
  chosen,
  roles,
  painted,
  layers,
  current,
  nameOf,
  onChoose,
  onToggle,
  onPoint,
  paint,
}: RowProps) {
  const { object, depth, at, end } = item;
  const { node } = object;
  const holds = end > at + 1;
  return (
    <div
      role="row"
      aria-level={depth + 1}
      aria-rowindex={index + 2}
      aria-selected={chosen}
      aria-expanded={holds && !flat ? open : undefined}
      className={`absolute grid items-center border-b border-line ${chosen ? 'bg-up2' : ''}`}
      style={{ top, height: ROW, gridTemplateColumns: columns, minWidth: '100%' }}
      onPointerEnter={() => onPoint(node)}
    >
      <span
        role="rowheader"
        className={`sticky left-0 flex h-full min-w-0 cursor-default items-center gap-1 pr-2 ${chosen ? 'bg-up2' : 'bg-bg'}`}
        style={{ paddingLeft: 6 + (flat ? 0 : Math.min(depth, 6) * 12) }}
        onClick={(e) => onChoose(item, e)}
      >
        {holds && !flat ? (
          <button
            aria-label={`${open ? 'Close' : 'Open'} ${object.name}`}
            tabIndex={-1}
            className="grid h-6 w-6 shrink-0 place-items-center text-t3 hover:text-t1"
            onClick={(e) => {
              e.stopPropagation();
              onToggle(node);
            }}
          >
            <svg width="7" height="7" aria-hidden="true">
              <path d={open ? 'M0 1.5h7L3.5 6z' : 'M1.5 0v7L6 3.5z'} fill="currentColor" />
            </svg>
          </button>
        ) : (
          <i className="w-6 shrink-0" />
        )}
        <span className="max-w-full shrink-0 truncate" title={object.name}>
          {object.name}
        </span>
        <span className="fig shrink truncate text-[10px] text-t3">
          {kindText(item)}
          {object.moves && ' · moves'}
        </span>
      </span>
      {layers.map((l, k) => {
        const known = roles[k];
        const mine = painted.get(l.id)?.get(node);
        const letter = mine ?? known?.roles[node] ?? '';
        const own = mine !== undefined || (known !== undefined && isOwn(known, node));
        const text = known ? said(known, node, nameOf) : '';
        return (
          <span
            key={l.id}
            role="gridcell"
            aria-label={`${object.name} in layer ${l.name}: ${text}`}
            title={text}
            data-cell={`${object.name} ${l.name}`}
            data-role={letter}
            className={`grid h-full cursor-cell place-items-center ${l.id === current.id ? (chosen ? 'bg-up2' : 'bg-up') : ''} hover:bg-up2`}
            onPointerDown={(e) => {
              if (e.button === 0) {
                e.currentTarget.releasePointerCapture(e.pointerId);
                paint(l, node, true);
              }
            }}
            onPointerEnter={(e) => e.buttons === 1 && paint(l, node, false)}
          >
            {letter && <RoleMark letter={letter} own={own} />}
          </span>
        );
      })}
    </div>
  );
});
