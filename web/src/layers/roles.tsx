import type { LayerRoles } from '../api/client';

/** What an object is in a layer: the letter that the server gives, and what the rules call it. */
export const ROLES = [
  { letter: 'S', role: 'seen', name: 'seen', says: 'in the picture' },
  {
    letter: 'U',
    role: 'unseen',
    name: 'unseen',
    says: 'the camera looks through it; it still lights, shadows and reflects',
  },
  {
    letter: 'H',
    role: 'holdout',
    name: 'holdout',
    says: 'cuts a hole; it still lights, shadows and reflects',
  },
  {
    letter: 'C',
    role: 'shadow-catcher',
    name: 'catches shadows',
    says: 'only the shadows on it are in the picture, with alpha',
  },
  { letter: 'L', role: 'left-out', name: 'left out', says: 'not there at all' },
] as const;

export type Letter = (typeof ROLES)[number]['letter'];
export type Role = (typeof ROLES)[number]['role'];

/** What is painted with: a role, or that objects are as what is above them. */
export type Brush = Letter | 'inherit';

export const nameOf = (letter: string) => ROLES.find((r) => r.letter === letter)?.name ?? '';

/** Whether a rule says it of the object itself, not of one above it. */
export const isOwn = (roles: LayerRoles, node: number) => roles.from[node] === node;

/** In words, with where that is said. */
export function said(roles: LayerRoles, node: number, objectName: (node: number) => string) {
  const from = roles.from[node]!;
  const what = nameOf(roles.roles[node]!);
  const pattern = roles.patterns[roles.rules[node]!];
  if (from < 0) {
    return `${what}, as all that no rule names`;
  }
  const by = pattern === objectName(from) ? '' : `, by ${pattern}`;
  return from === node ? `${what}, set here${by}` : `${what}, as ${objectName(from)}${by}`;
}

/** A role by its shape; faint where it is inherited. */
export function RoleMark({ letter, own = true }: { letter: string; own?: boolean }) {
  return (
    <svg
      width="12"
      height="12"
      viewBox="0 0 12 12"
      className={`shrink-0 ${own ? 'text-t1' : 'text-t3'}`}
      opacity={own ? 1 : 0.75}
      aria-hidden="true"
    >
      {letter === 'S' && <rect x="1" y="1" width="10" height="10" fill="currentColor" />}
      {letter === 'U' && (
        <rect
          x="1.5"
          y="1.5"
          width="9"
          height="9"
          fill="none"
          stroke="currentColor"
          strokeDasharray="2 1.6"
        />
      )}
      {letter === 'H' && (
        <path d="M1.5 1.5h9v9h-9zM2 10l8-8" fill="none" stroke="currentColor" strokeWidth="1.1" />
      )}
      {letter === 'C' && <path d="M1 10.5 11 4v6.5z" fill="currentColor" />}
      {letter === 'L' && <path d="M3 6h6" stroke="currentColor" strokeWidth="1.4" />}
    </svg>
  );
}
