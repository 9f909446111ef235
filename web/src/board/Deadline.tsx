import { useChangeProduction, useProduction } from '../api/queries';
import { useTell } from '../shell/Notices';
import { Row } from '../shell/Row';

/** A moment as the browser's field for dates and times has it, in local time. */
function local(moment: string | null): string {
  if (!moment) {
    return '';
  }
  const d = new Date(moment);
  const two = (n: number) => String(n).padStart(2, '0');
  return `${d.getFullYear()}-${two(d.getMonth() + 1)}-${two(d.getDate())}T${two(d.getHours())}:${two(d.getMinutes())}`;
}

/** When all is to be ready. */
export function Deadline() {
  const production = useProduction().data;
  const change = useChangeProduction();
  const tell = useTell();
  if (!production) {
    return null;
  }
  const put = (deadline: string | null) =>
    change.mutate({ ...production, deadline }, { onError: (e) => tell(e.message, { bad: true }) });
  return (
    <Row name="Deadline">
      <span className="flex items-center gap-3">
        <input
          key={production.deadline}
          type="datetime-local"
          aria-label="Deadline"
          className="fig min-w-0 rounded-sm border border-transparent bg-transparent hover:border-line focus:border-t2 focus:outline-none"
          defaultValue={local(production.deadline)}
          onBlur={(e) => {
            const { value } = e.target;
            if (value !== local(production.deadline)) {
              put(value ? new Date(value).toISOString() : null);
            }
          }}
        />
        {production.deadline && (
          <button
            className="min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1"
            onClick={() => put(null)}
          >
            none
          </button>
        )}
      </span>
    </Row>
  );
}
