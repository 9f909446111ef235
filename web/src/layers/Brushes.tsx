import type { LayerRoles } from '../api/client';
import type { Layer } from '../api/strands';
import { AddLayers } from '../shell/AddLayers';
import { RoleMark, ROLES, type Brush } from './roles';

/** Says a role of all that fits what is looked for. */
export function ByPattern({
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
export function Unfit({ layer, roles }: { layer: Layer; roles: LayerRoles | undefined }) {
  if (!roles?.unfit.length) {
    return null;
  }
  return (
    <p className="border-t border-line px-4 py-1.5 text-xs">
      <b className="text-bad">Nothing fits</b> {roles.unfit.slice(0, 4).join(', ')}
      {roles.unfit.length > 4 && ` and ${roles.unfit.length - 4} more`} of layer {layer.name} in
      this revision; that counts for nothing here.
    </p>
  );
}

/** The roles to paint with, by their shapes. */
export function Brushes({
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
