import { placeOf } from './Rectangle';

/** Shares of each side that are seen on any screen: for action, for titles (SMPTE ST 2046-1). */
export const SAFE = [0.93, 0.9];

/** Shapes that a picture may be cut to, width over height. */
export const MATTES = [
  { value: 0, label: 'no matte' },
  { value: 2.39, label: '2.39 : 1' },
  { value: 1.85, label: '1.85 : 1' },
  { value: 16 / 9, label: '16 : 9' },
  { value: 4 / 3, label: '1.33 : 1' },
  { value: 1, label: '1 : 1' },
  { value: 9 / 16, label: '9 : 16' },
];

export type Guides = { safe: boolean; thirds: boolean; centre: boolean; matte: number };

const KEY = 'posada-guides';
export const NO_GUIDES: Guides = { safe: false, thirds: false, centre: false, matte: 0 };

/** What was chosen last; it is comfort, and kept in the browser. */
export function storedGuides(): Guides {
  try {
    return { ...NO_GUIDES, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Guides>) };
  } catch {
    return NO_GUIDES;
  }
}

export const storeGuides = (g: Guides) => localStorage.setItem(KEY, JSON.stringify(g));

/** The safe areas of a picture. */
export function SafeAreas() {
  return SAFE.map((s) => (
    <i
      key={s}
      data-testid="safe-area"
      className="pointer-events-none absolute border border-white mix-blend-difference"
      style={placeOf({ x: (1 - s) / 2, y: (1 - s) / 2, width: s, height: s })}
    />
  ));
}

/**
 * Lines over a picture that help to frame it.
 *
 * @param aspect of the picture, width over height
 */
export function GuideLines({ guides: g, aspect }: { guides: Guides; aspect: number }) {
  const cut = g.matte > 0 ? Math.min(1, g.matte / aspect, aspect / g.matte) : 1;
  const flat = g.matte > aspect;
  const line = 'pointer-events-none absolute bg-white/80 mix-blend-difference';
  return (
    <>
      {g.safe && <SafeAreas />}
      {g.thirds &&
        [1, 2].flatMap((k) => [
          <i
            key={`v${k}`}
            className={`${line} inset-y-0 w-px`}
            style={{ left: `${(100 * k) / 3}%` }}
          />,
          <i
            key={`h${k}`}
            className={`${line} inset-x-0 h-px`}
            style={{ top: `${(100 * k) / 3}%` }}
          />,
        ])}
      {g.centre && (
        <>
          <i className={`${line} top-1/2 left-1/2 h-px w-6 -translate-x-1/2`} />
          <i className={`${line} top-1/2 left-1/2 h-6 w-px -translate-y-1/2`} />
        </>
      )}
      {cut < 1 &&
        [0, 1].map((k) => (
          <i
            key={k}
            data-testid="matte"
            className="pointer-events-none absolute bg-black/70"
            style={placeOf(
              flat
                ? { x: 0, y: k * (1 + cut) * 0.5, width: 1, height: (1 - cut) / 2 }
                : { x: k * (1 + cut) * 0.5, y: 0, width: (1 - cut) / 2, height: 1 },
            )}
          />
        ))}
    </>
  );
}
