/** Something that can be found: a place to go or a thing to do. */
export type Found = { name: string; kind: string; keys?: string; run: () => void };

/** How well letters fit a name: they come in this order; lower is better, undefined if not. */
export function fit(name: string, letters: string): number | undefined {
  const n = name.toLowerCase();
  let at = -1;
  let gaps = 0;
  for (const c of letters.toLowerCase().replaceAll(' ', '')) {
    const next = n.indexOf(c, at + 1);
    if (next < 0) {
      return undefined;
    }
    // A letter at the beginning of a word is no gap.
    gaps += next === at + 1 || /[^a-z0-9]/.test(n[next - 1] ?? ' ') ? 0 : next - at;
    at = next;
  }
  return gaps;
}

const MOST = 40;

/** What fits the letters, the best first; without letters all, as they come. */
export function find(all: Found[], letters: string): Found[] {
  return all
    .map((f, i) => ({ f, i, fit: fit(`${f.name} ${f.kind}`, letters) }))
    .filter((x): x is typeof x & { fit: number } => x.fit !== undefined)
    .sort((a, b) => a.fit - b.fit || a.i - b.i)
    .slice(0, MOST)
    .map((x) => x.f);
}
