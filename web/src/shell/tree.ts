import type { SceneObject } from '../api/client';

/** What of the objects is listed. */
export type Which = 'all' | 'meshes' | 'lights' | 'moving' | 'still';

/** An object with how deep it lies and where what is below it ends in the list of all. */
export type Item = { object: SceneObject; at: number; depth: number; end: number };

/** The objects with their depths; the list is in the order of the tree. */
export function itemsOf(objects: SceneObject[]): Item[] {
  const items = objects.map((object, at) => ({ object, at, depth: 0, end: at + 1 }));
  for (const i of items) {
    i.depth = i.object.parent < 0 ? 0 : items[i.object.parent]!.depth + 1;
  }
  for (let k = items.length - 1; k >= 0; k--) {
    const parent = items[k]!.object.parent;
    if (parent >= 0) {
      items[parent]!.end = Math.max(items[parent]!.end, items[k]!.end);
    }
  }
  return items;
}

/** A pattern as a test of names; text without * and ? is looked for anywhere in them. */
export function fits(text: string): (name: string) => boolean {
  const wanted = text.trim();
  if (!/[*?]/.test(wanted)) {
    const part = wanted.toLowerCase();
    return (name) => name.toLowerCase().includes(part);
  }
  const source = wanted
    .replace(/[.+^${}()|[\]\\]/g, '\\$&')
    .replaceAll('*', '.*')
    .replaceAll('?', '.');
  const whole = new RegExp(`^${source}$`, 's');
  return (name) => whole.test(name);
}

/** The pattern that what was typed stands for in a rule. */
export const patternOf = (text: string) => (/[*?]/.test(text) ? text.trim() : `*${text.trim()}*`);

const KIND: Record<Which, (o: SceneObject) => boolean> = {
  all: () => true,
  meshes: (o) => o.kind === 'MESH' || o.kind === 'COPIES',
  lights: (o) => o.kind === 'LIGHT',
  moving: (o) => o.moves && o.kind !== 'GROUP',
  still: (o) => !o.moves && o.kind !== 'GROUP',
};

/** What is listed: the open part of the tree; or, where something is looked for, all that fits. */
export function listed(items: Item[], open: ReadonlySet<number>, text: string, which: Which) {
  if (text.trim() === '' && which === 'all') {
    const all: Item[] = [];
    for (let i = 0; i < items.length;) {
      const item = items[i]!;
      all.push(item);
      i = open.has(item.object.node) ? i + 1 : item.end;
    }
    return all;
  }
  const name = fits(text);
  return items.filter((i) => KIND[which](i.object) && name(i.object.name));
}

/** What is open at first: from the top down while little is listed. */
export function openAtFirst(items: Item[], most = 40): Set<number> {
  const open = new Set<number>();
  let shown = items.filter((i) => i.depth === 0).length;
  const children = new Map<number, number>();
  for (const { object } of items) {
    children.set(object.parent, (children.get(object.parent) ?? 0) + 1);
  }
  for (const i of items) {
    const below = children.get(i.at) ?? 0;
    if (below > 0 && i.depth === 0 && shown + below <= most) {
      open.add(i.object.node);
      shown += below;
    }
  }
  return open;
}

const count = (n: number) => n.toLocaleString('en-US').replaceAll(',', ' ');

/** What an object is, in a few words. */
export function kindText({ object: o, end, at }: Item): string {
  switch (o.kind) {
    case 'GROUP':
      return `group of ${count(end - at - 1)}`;
    case 'MESH':
      return `${count(o.triangles)} triangles`;
    case 'COPIES':
      return `${count(o.copies)} copies`;
    case 'LIGHT':
      return 'light';
    default:
      return 'camera';
  }
}
