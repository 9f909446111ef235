import { useRef } from 'react';
import { planFile } from '../api/client';
import { useProduction, useTakePlan } from '../api/queries';
import { useNotices } from '../shell/Notices';
import { useUndo } from '../shell/undo';

const LINK =
  'min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1 disabled:text-t3';

/** The production as a file: written, and taken over. */
export function PlanFile() {
  const production = useProduction().data;
  const take = useTakePlan();
  const undo = useUndo();
  const { tell } = useNotices();
  const input = useRef<HTMLInputElement>(null);
  if (!production) {
    return null;
  }
  const read = async (file: File) => {
    let plan: unknown;
    try {
      plan = JSON.parse(await file.text());
    } catch {
      tell(`${file.name} is no plan: it is not JSON.`, { bad: true });
      return;
    }
    take.mutate(plan, {
      onSuccess: () =>
        tell(`${file.name} is taken over.`, {
          action: { label: 'Undo', run: () => undo('undo') },
        }),
      onError: (e) => tell(`${file.name}: ${e.message}`, { bad: true }),
    });
  };
  return (
    <p className="mt-2 flex gap-5">
      <a className={LINK} href={planFile(production.id)} download="plan.json">
        Save the plan as a file
      </a>
      <button className={LINK} disabled={take.isPending} onClick={() => input.current?.click()}>
        Take over a plan
      </button>
      <input
        ref={input}
        type="file"
        accept=".json,application/json"
        aria-label="A plan to take over"
        className="hidden"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file) {
            void read(file);
          }
        }}
      />
    </p>
  );
}
