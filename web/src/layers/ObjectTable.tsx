import { useVirtualizer } from '@tanstack/react-virtual';
import { memo, useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import type { LayerRoles } from '../api/client';
import { useRoles, useSayOfObjects } from '../api/queries';
import type { Layer } from '../api/strands';
import { useGo } from '../shell/address';
import { AddLayers } from '../shell/AddLayers';
import { Choice } from '../shell/Choice';
import { useCurrentShot } from '../shell/current';
import { count } from '../shell/format';
import { useTell } from '../shell/Notices';
import { isOwn, RoleMark, ROLES, said, type Brush, type Letter } from './roles';
import { kindText, listed, openAtFirst, patternOf, type Item, type Which } from './tree';

/** Height of a row, and widths of the columns, pixels. */
const ROW = 30;
const NAME = 190;
const COLUMN = 58;

/** What is being painted: roles that the server has not taken yet, by layer and node. */
type Painted = Map<number, Map<number, Letter>>;

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
                className={`block min-h-7 w-full truncate px-1 pb-1 text-center text-xs ${l.id === current.id ? 'border-b-2 border-mark bg-up font-semibold' : 'border-b-2 border-transparent text-t2 hover:text-t1'}`}
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

/** Says things of objects, shown at once; cells that the pointer is drawn over are one step. */
function usePainting(revision: number, brush: Brush, items: Item[]) {
  const say = useSayOfObjects();
  const tell = useTell();
  const [painted, setPainted] = useState<Painted>(new Map());
  const stroke = useRef<{ layer: Layer; nodes: Set<number>; brush: Brush }>(undefined);
  const names = useMemo(() => new Map(items.map((i) => [i.object.node, i.object.name])), [items]);
  const { mutateAsync } = say;
  return useMemo(() => {
    const nameOf = (node: number) => names.get(node) ?? '';
    const sayOf = (layer: Layer, match: string[], b: Brush) => {
      if (match.length === 0) {
        return Promise.resolve();
      }
      const role = ROLES.find((r) => r.letter === b)?.role ?? null;
      return mutateAsync({
        layer: layer.id,
        revisionId: revision,
        said: { match, role, castsShadows: null, reflected: null, receives: null },
        forget: role ? [] : ['ROLE'],
      }).then(
        () => undefined,
        (e: Error) => tell(e.message, { bad: true }),
      );
    };
    const show = (layer: Layer, nodes: Iterable<number>, b: Brush) => {
      if (b === 'inherit') {
        return;
      }
      setPainted((all) => {
        const next = new Map(all);
        const own = new Map(next.get(layer.id));
        for (const n of nodes) {
          own.set(n, b);
        }
        return next.set(layer.id, own);
      });
    };
    const done = (layer: Layer) => () =>
      setPainted((all) => {
        const next = new Map(all);
        next.delete(layer.id);
        return next;
      });
    const put = (layer: Layer, nodes: number[], b: Brush) => {
      show(layer, nodes, b);
      void sayOf(layer, nodes.map(nameOf), b).then(done(layer));
    };
    return {
      painted,
      nameOf,
      sayOf: (layer: Layer, match: string[], b: Brush) => void sayOf(layer, match, b),
      say: put,
      paint: (layer: Layer, node: number, begins: boolean) => {
        if (begins) {
          stroke.current = { layer, nodes: new Set(), brush };
          window.addEventListener(
            'pointerup',
            () => {
              const s = stroke.current;
              stroke.current = undefined;
              if (s) {
                put(s.layer, [...s.nodes], s.brush);
              }
            },
            { once: true },
          );
        }
        const s = stroke.current;
        if (s?.layer.id === layer.id && !s.nodes.has(node)) {
          s.nodes.add(node);
          show(layer, [node], s.brush);
        }
      },
    };
  }, [painted, names, mutateAsync, revision, brush, tell]);
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

/** Says a role of all that fits what is looked for. */
function ByPattern({
  pattern,
  fitting,
  layer,
  onSay,
}: {
  pattern: string;
  fitting: number;
  layer: Layer;
  onSay: (b: Brush) => void;
}) {
  if (fitting === 0) {
    return null;
  }
  return (
    <div className="flex flex-wrap items-center gap-x-1 px-4 pt-1.5 text-xs text-t2">
      <span className="mr-1">
        All <span className="fig text-t1">{pattern}</span> in {layer.name}:
      </span>
      {ROLES.map((r) => (
        <button
          key={r.letter}
          aria-label={`All ${pattern} ${r.name} in ${layer.name}`}
          title={`${r.name}: ${r.says}`}
          className="grid h-6 w-6 place-items-center rounded-sm hover:bg-up2"
          onClick={() => onSay(r.letter)}
        >
          <RoleMark letter={r.letter} />
        </button>
      ))}
    </div>
  );
}

/** Patterns of the layer that no object of this revision fits. */
function Unfit({ layer, roles }: { layer: Layer; roles: LayerRoles | undefined }) {
  if (!roles?.unfit.length) {
    return null;
  }
  return (
    <p className="border-t border-line px-4 py-1.5 text-xs">
      <b className="text-bad">Nothing fits</b> {roles.unfit.slice(0, 4).join(', ')}
      {roles.unfit.length > 4 && ` and ${roles.unfit.length - 4} more`} of layer {layer.name} in
      this revision; it cannot be rendered with it.
    </p>
  );
}

/** The roles to paint with, by their shapes. */
function Brushes({
  brush,
  onBrush,
  like,
  objects,
}: {
  brush: Brush;
  onBrush: (b: Brush) => void;
  like: Layer;
  objects: string[];
}) {
  const all: { value: Brush; name: string; says: string; key: string }[] = [
    ...ROLES.map((r) => ({ value: r.letter, name: r.name, says: r.says, key: r.letter })),
    { value: 'inherit', name: 'as above', says: 'as what is above it', key: 'Backspace' },
  ];
  return (
    <div className="flex items-end gap-3 border-t border-line px-4 py-2">
      <div
        role="radiogroup"
        aria-label="Role to paint"
        className="grid flex-1 grid-cols-[auto_auto_auto] gap-x-1"
      >
        {all.map((b) => (
          <button
            key={b.value}
            role="radio"
            aria-checked={brush === b.value}
            title={`${b.says}; for the chosen objects: ${b.key}`}
            className={`flex min-h-6 items-center gap-2 rounded-sm px-1 text-left text-xs whitespace-nowrap ${brush === b.value ? 'bg-up2 font-semibold' : 'text-t2 hover:text-t1'}`}
            onClick={() => onBrush(b.value)}
          >
            {b.value === 'inherit' ? (
              <i className="h-3 w-3 rounded-full border border-t3" />
            ) : (
              <RoleMark letter={b.value} />
            )}
            {b.name}
          </button>
        ))}
      </div>
      <AddLayers like={like} objects={objects} />
    </div>
  );
}
