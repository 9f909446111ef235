import { useMemo, useRef, useState } from 'react';
import { useSayOfObjects } from '../api/layers';
import type { Layer } from '../api/strands';
import { useTell } from '../shell/Notices';
import { ROLES, type Brush, type Letter } from './roles';
import type { Item } from '../shell/tree';

/** What is being painted: roles that the server has not taken yet, by layer and node. */
export type Painted = Map<number, Map<number, Letter>>;

/** Says things of objects, shown at once; cells that the pointer is drawn over are one step. */
export function usePainting(revision: number, brush: Brush, items: Item[]) {
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
