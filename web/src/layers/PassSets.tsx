import { useState } from 'react';
import { useKeepPassSet, usePassSets, useRemovePassSet } from '../api/layers';
import { useChangeView, type StrandView } from '../api/strands';
import { Choice } from '../shell/Choice';
import { useTell } from '../shell/Notices';

const NONE = 0;

/** Sets of passes by name: taken over by the layer, kept from it, removed. */
export function PassSets({
  strand,
  put,
}: {
  strand: StrandView;
  put: (changed: Promise<unknown>, about: string) => Promise<string | undefined>;
}) {
  const { passes } = strand.settings;
  const sets = usePassSets() ?? [];
  const change = useChangeView(strand);
  const keep = useKeepPassSet();
  const remove = useRemovePassSet();
  const tell = useTell();
  const [name, setName] = useState<string>();
  const text = JSON.stringify(passes);
  const now = sets.find((s) => JSON.stringify(s.document) === text);
  const small = 'min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1';
  const failed = { onError: (e: Error) => tell(e.message, { bad: true }) };
  return (
    <div className="flex items-baseline gap-3">
      <span className="text-t2">Set</span>
      <Choice
        label="Set of passes"
        value={now?.id ?? NONE}
        options={[
          ...sets.map((s) => ({
            value: s.id,
            label: s.name,
            hint: `${s.document.wanted.length} passes`,
          })),
          ...(now ? [] : [{ value: NONE, label: 'none of those kept' }]),
        ]}
        onChange={(id) => {
          const set = sets.find((s) => s.id === id);
          if (set) {
            void put(change.passes(set.document), 'passes');
          }
        }}
      />
      {now ? (
        <button className={small} onClick={() => remove.mutate(now.id, failed)}>
          remove this set
        </button>
      ) : name === undefined ? (
        <button className={small} onClick={() => setName('')}>
          keep as a set
        </button>
      ) : (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            keep.mutate(
              { name: name.trim(), document: passes },
              { ...failed, onSuccess: () => setName(undefined) },
            );
          }}
        >
          <input
            autoFocus
            aria-label="Name of the set"
            placeholder="name, Enter"
            value={name}
            onChange={(e) => setName(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === 'Escape') {
                e.stopPropagation();
                setName(undefined);
              }
            }}
            className="w-32 border-b border-line bg-transparent py-0.5 placeholder:text-t3 focus:border-t2 focus:outline-none"
          />
        </form>
      )}
    </div>
  );
}
