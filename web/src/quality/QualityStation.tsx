import { useState } from 'react';
import type { Part } from '../api/client';
import { useStrandView } from '../api/strands';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { useCurrentShot } from '../shell/current';
import { usePlayhead } from '../shell/playhead';
import { BakedLight } from './BakedLight';
import { Ladder } from './Ladder';
import { RecipePanel } from './RecipePanel';
import { RecipeTable } from './RecipeTable';
import { Snapshots } from './Snapshots';
import { Variants } from './Variants';
import { WhereItGoes } from './WhereItGoes';

const VIEWS = [
  ['ladder', 'Ladder'],
  ['variants', 'Variants'],
  ['effort', 'Where it goes'],
  ['baked', 'Baked light'],
  ['snapshots', 'Snapshots'],
  ['recipes', 'Recipes'],
] as const;
type View = (typeof VIEWS)[number][0];

/** In the middle, a third of the picture across and down. */
const MIDDLE: Part = { x: 1 / 3, y: 1 / 3, width: 1 / 3, height: 1 / 3 };

/** How many samples are enough, and what they cost. */
export default function QualityStation() {
  const shot = useCurrentShot();
  const place = usePlace();
  const strand = useStrandView(shot, place?.layer);
  const frame = usePlayhead();
  const go = useGo();
  const view: View = VIEWS.find(([v]) => v === place?.view)?.[0] ?? 'ladder';
  const [part, setPart] = useState(MIDDLE);
  const show = (v: View) => go({ view: v === 'ladder' ? undefined : v });
  if (!shot) {
    return (
      <main className="grid place-items-center bg-well">
        <div className="text-center">
          <p className="big mb-2">No shots yet</p>
          <p className="mb-5 text-t2">Quality is judged on a part of a shot’s picture.</p>
          <Button main onClick={() => go({ station: 'shots' })}>
            Go to Shots
          </Button>
        </div>
      </main>
    );
  }
  if (!strand) {
    return <main />;
  }
  const key = `${shot.id}-${strand.layer.id}`;
  const name = VIEWS.find(([v]) => v === view)![1];
  return (
    <main className="grid min-h-0 grid-cols-[minmax(0,1fr)_300px]">
      <section aria-label={name} className="flex min-h-0 min-w-0 flex-col bg-well px-5">
        <div className="flex h-11 shrink-0 items-center gap-5 border-b border-line whitespace-nowrap">
          <h2 className="sr-only">{name}</h2>
          {VIEWS.map(([v, label]) => (
            <button
              key={v}
              aria-pressed={v === view}
              className={`min-h-6 ${v === view ? 'font-[640]' : 'text-t2 hover:text-t1'}`}
              onClick={() => show(v)}
            >
              {label}
            </button>
          ))}
          <span className="ml-auto truncate text-t2">
            frame <span className="fig">{frame}</span> · {shot.name}, {strand.layer.name}
          </span>
        </div>
        {view === 'ladder' && <Ladder key={key} strand={strand} part={part} onPart={setPart} />}
        {view === 'variants' && <Variants key={key} strand={strand} part={part} onPart={setPart} />}
        {view === 'effort' && (
          <WhereItGoes
            key={key}
            strand={strand}
            onLook={(p) => {
              setPart(p);
              show('ladder');
            }}
          />
        )}
        {view === 'baked' && <BakedLight key={key} strand={strand} />}
        {view === 'snapshots' && <Snapshots key={key} strand={strand} />}
        {view === 'recipes' && <RecipeTable key={key} strand={strand} />}
      </section>
      <RecipePanel key={`${key}-${strand.recipe.id}`} strand={strand} />
    </main>
  );
}
