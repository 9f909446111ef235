import { useState, type ReactNode } from 'react';
import type { Revision, SceneDifference } from '../api/client';
import { useDifference } from '../api/revisions';
import { Choice } from '../shell/Choice';
import { revision as revisionText } from '../shell/format';

const WORDS: Record<string, string> = {
  SHAPE: 'shape',
  PLACE: 'place',
  PARENT: 'what it hangs on',
  MATERIAL: 'material',
  MOVEMENT: 'movement',
  CAMERA: 'view',
  LIGHT: 'light',
};

/** Lines that are shown of a list. */
const SHOWN = 12;

/** What is another in a revision than in an earlier one of its scene. */
export function Against({ revision, revisions }: { revision: Revision; revisions: Revision[] }) {
  const others = revisions.filter((r) => r.scene === revision.scene && r.number < revision.number);
  const [chosen, setChosen] = useState<number>();
  const from = others.find((r) => r.id === chosen) ?? others[0];
  const found = useDifference(revision, from);
  if (!from) {
    return null;
  }
  const d = found.data;
  return (
    <section aria-label="Compared with another revision">
      <div className="mt-4 mb-1 flex items-baseline gap-2">
        <h2 className="font-[640]">Against</h2>
        <Choice
          label="Compared with"
          value={from.id}
          options={others.map((r) => ({ value: r.id, label: revisionText(r.number) }))}
          onChange={setChosen}
        />
      </div>
      {found.isError && <p>{found.error.message}</p>}
      {!d && !found.isError && <p className="text-t2">comparing …</p>}
      {d && (
        <Differences d={d}>
          <Lines
            title="Renamed"
            items={d.renamed.map(
              (r) => `${r.from} is ${r.to} now${r.certain ? '' : ', perhaps'}${besides(r.what)}`,
            )}
          />
        </Differences>
      )}
    </section>
  );
}

/** What of an object is another besides its name. */
export const besides = (what: string[]) =>
  what.length > 0 ? `, and another ${what.map((w) => WORDS[w]).join(', ')}` : '';

/** What is another, after what is called otherwise. */
export function Differences({ d, children }: { d: SceneDifference; children: ReactNode }) {
  if (d.renamed.length + d.gone.length + d.added.length + d.changed.length === 0) {
    return <p className="text-t2">Every object is the same.</p>;
  }
  return (
    <>
      {children}
      <Lines title="Gone" items={d.gone} />
      <Lines title="New" items={d.added} />
      <Lines
        title="Changed"
        items={d.changed.map((c) => `${c.name}: ${c.what.map((w) => WORDS[w]).join(', ')}`)}
      />
    </>
  );
}

export function Lines({ title, items }: { title: string; items: string[] }) {
  if (items.length === 0) {
    return null;
  }
  return (
    <>
      <h3 className="mt-1.5 text-t2">
        {title} <span className="fig">{items.length}</span>
      </h3>
      <ul>
        {items.slice(0, SHOWN).map((t) => (
          <li key={t} className="truncate border-b border-line py-1" title={t}>
            {t}
          </li>
        ))}
      </ul>
      {items.length > SHOWN && <p className="text-t3">and {items.length - SHOWN} more</p>}
    </>
  );
}
