import { useState } from 'react';
import type { Input } from '../api/client';
import { useOffered, useUsual } from '../api/assembly';
import { useFootage, useSequences } from '../api/review';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { useCurrentShot } from '../shell/current';

/** Passes that are multiplied, and those that add up. */
const MULTIPLIED = ['ambient-occlusion', 'shadow', 'facing'];
const ADDED =
  /^(diffuse|specular|transmission)-(in)?direct$|^(sheen|clearcoat|emission|environment|light-.*)$/;

/** How a pass is usually put on. */
export const usualOperator = (pass: string): Input['operator'] =>
  MULTIPLIED.includes(pass) ? 'multiply' : ADDED.test(pass) ? 'add' : 'over';

/** What an input can be made from. */
export function AddInput({ onAdd }: { onAdd: (i: Input) => void }) {
  const offered = useOffered();
  const sequences = useSequences();
  const usual = useUsual();
  const shot = useCurrentShot();
  const [named, setNamed] = useState<string>();
  const [still, setStill] = useState('');
  const own = offered?.find((o) => o.footage.startsWith(`shot-${shot?.id}.`));
  const footage = named ?? own?.footage ?? offered?.[0]?.footage ?? firstKey(sequences);
  const outside = useFootage(footage?.startsWith('sequence-') ? footage : undefined).data;
  if (!usual || !offered) {
    return null;
  }
  const passes =
    offered.find((o) => o.footage === footage)?.passes ?? outside?.passes.map((p) => p.name) ?? [];
  // A picture by itself is there at all times.
  const alone = outside?.frames.length === 1 ? outside.frames[0]! : null;
  const name = (pass: string) => {
    const of = offered.find((o) => o.footage === footage);
    return pass === 'beauty' ? (of?.layer ?? outside?.name ?? pass) : pass;
  };
  const add = (source: Partial<Input['source']>, called: string, operator: Input['operator']) =>
    onAdd({
      ...usual.input,
      name: called,
      operator,
      source: { ...usual.input.source, ...source },
    });
  return (
    <>
      <div className="flex items-baseline gap-4 border-b border-line py-2">
        <span className="w-17 text-t2">From</span>
        {footage ? (
          <Choice
            label="From"
            value={footage}
            options={[
              ...offered.map((o) => ({
                value: o.footage,
                label: `${o.shot} · ${o.layer}`,
                hint: `newest, now v${String(o.version).padStart(3, '0')}`,
              })),
              ...(sequences ?? []).map((s) => ({
                value: `sequence-${s.id}`,
                label: s.name,
                hint: s.film ? 'film' : 'from elsewhere',
              })),
            ]}
            onChange={setNamed}
          />
        ) : (
          <span className="text-t2">Nothing has been rendered yet.</span>
        )}
        <label className="ml-auto flex items-baseline gap-2 text-t2">
          One frame only
          <input
            aria-label="Frame of a still"
            placeholder="all"
            className="fig w-12 border-b border-line bg-transparent text-t1 focus:border-t2 focus:outline-none"
            value={still}
            onChange={(e) => setStill(e.target.value.replace(/\D/g, ''))}
          />
        </label>
      </div>
      <div className="flex flex-wrap gap-2 py-3">
        {passes.map((p) => (
          <Button
            key={p}
            onClick={() =>
              add(
                { kind: 'footage', footage, pass: p, still: still ? Number(still) : alone },
                name(p),
                usualOperator(p),
              )
            }
          >
            {p}
          </Button>
        ))}
      </div>
      <div className="flex items-baseline gap-2 border-t border-line pt-3">
        <span className="w-17 text-t2">Drawn</span>
        <Button
          onClick={() => add({ kind: 'solid', colour: [0.18, 0.18, 0.18, 1] }, 'solid', 'over')}
        >
          Solid
        </Button>
        <Button
          onClick={() =>
            add(
              {
                kind: 'gradient',
                colour: [0.02, 0.03, 0.06, 1],
                second: [0.2, 0.2, 0.2, 1],
                angle: 90,
              },
              'gradient',
              'over',
            )
          }
        >
          Gradient
        </Button>
      </div>
      <p className="mt-3 text-xs text-t3">
        Sequences from elsewhere, films and stills are opened in Review and can then be chosen here.
      </p>
    </>
  );
}

const firstKey = (all: { id: number }[] | undefined) =>
  all?.length ? `sequence-${all[0]!.id}` : undefined;
