import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useMemo, useState, type KeyboardEvent } from 'react';
import { useObjects } from '../api/layers';
import { Choice } from '../shell/Choice';
import { count } from '../shell/format';
import { itemsOf, kindText, listed, openAtFirst, type Item, type Which } from '../shell/tree';

/** Height of a row, pixels. */
const ROW = 26;

/** The tree of objects, with search; one of them can be chosen. */
export function Tree({
  revision,
  chosen,
  onChoose,
}: {
  revision: number;
  chosen: string | undefined;
  onChoose: (name: string | undefined) => void;
}) {
  const objects = useObjects(revision);
  const items = useMemo(() => itemsOf(objects ?? []), [objects]);
  const [text, setText] = useState('');
  const [which, setWhich] = useState<Which>('all');
  const [opened, setOpened] = useState<ReadonlySet<number>>();
  const first = useMemo(() => openAtFirst(items), [items]);
  const open = opened ?? first;
  const rows = useMemo(() => listed(items, open, text, which), [items, open, text, which]);
  const [scroll, setScroll] = useState<HTMLElement | null>(null);
  // What it returns is used here alone, and anew at each turn.
  // eslint-disable-next-line react-hooks/incompatible-library
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll,
    estimateSize: () => ROW,
    overscan: 6,
  });
  const cursor = rows.findIndex((r) => r.object.name === chosen);
  // What was chosen elsewhere comes into sight, with all above it opened.
  useEffect(() => {
    const at = items.findIndex((i) => i.object.name === chosen);
    if (at < 0) {
      return;
    }
    const above = new Set(open);
    for (let p = items[at]!.object.parent; p >= 0; p = items[p]!.object.parent) {
      above.add(items[p]!.object.node);
    }
    if (above.size !== open.size) {
      setOpened(above);
    }
    const place = listed(items, above, text, which).findIndex((i) => i.object.name === chosen);
    if (place >= 0) {
      virtual.scrollToIndex(place, { align: 'auto' });
    }
    // Only another choice moves the list.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [chosen, items]);
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
    if (e.ctrlKey || e.metaKey || e.altKey) {
      return;
    }
    const item = rows[Math.max(0, cursor)];
    if (e.key === 'ArrowDown' || e.key === 'ArrowUp') {
      const at = cursor < 0 ? 0 : cursor + (e.key === 'ArrowDown' ? 1 : -1);
      const next = rows[at];
      if (next) {
        onChoose(next.object.name);
        virtual.scrollToIndex(at, { align: 'auto' });
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
  return (
    <section aria-label="Objects" className="flex min-h-0 flex-col border-r border-line">
      <div className="flex items-center gap-2 px-4 pt-3 pb-1">
        <input
          type="search"
          aria-label="Find an object or a pattern"
          placeholder="find an object"
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
      <div
        ref={setScroll}
        role="tree"
        aria-label="Objects of the scene"
        tabIndex={0}
        onKeyDown={keys}
        className="min-h-0 flex-1 overflow-auto focus-visible:outline-offset-[-2px]"
      >
        {objects && rows.length === 0 && (
          <p className="px-4 py-2 text-t2">
            {items.length ? 'Nothing has such a name.' : 'There are no objects.'}
          </p>
        )}
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start }) => (
            <TreeRow
              key={index}
              item={rows[index]!}
              start={start}
              open={open.has(rows[index]!.object.node)}
              chosen={rows[index]!.object.name === chosen}
              onToggle={toggle}
              onChoose={onChoose}
            />
          ))}
        </div>
      </div>
    </section>
  );
}

function TreeRow({
  item,
  start,
  open,
  chosen,
  onToggle,
  onChoose,
}: {
  item: Item;
  start: number;
  open: boolean;
  chosen: boolean;
  onToggle: (node: number) => void;
  onChoose: (name: string | undefined) => void;
}) {
  const { object } = item;
  const holds = item.end > item.at + 1;
  return (
    <div
      role="treeitem"
      aria-level={item.depth + 1}
      aria-selected={chosen}
      aria-expanded={holds ? open : undefined}
      className={`absolute inset-x-0 flex items-center gap-1.5 pr-4 ${chosen ? 'border-l-2 border-mark bg-up2' : 'border-l-2 border-transparent hover:bg-up'}`}
      style={{ top: start, height: ROW, paddingLeft: 10 + 14 * item.depth }}
      onClick={() => onChoose(chosen ? undefined : object.name)}
    >
      <span
        className="grid w-4 shrink-0 place-items-center self-stretch text-t3"
        aria-hidden="true"
        onClick={(e) => {
          if (holds) {
            e.stopPropagation();
            onToggle(object.node);
          }
        }}
      >
        {holds && (
          <svg width="8" height="8">
            <path d={open ? 'M0 2h8L4 7z' : 'M2 0v8l5-4z'} fill="currentColor" />
          </svg>
        )}
      </span>
      <span className={`truncate ${chosen ? 'font-semibold' : ''}`}>{object.name}</span>
      <span className={`ml-auto shrink-0 text-xs ${chosen ? 'text-t2' : 'text-t3'}`}>
        {object.moves && object.kind !== 'GROUP' ? 'animated · ' : ''}
        {kindText(item)}
      </span>
    </div>
  );
}
