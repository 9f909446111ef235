import { useHealth } from '../api/queries';

/** Says on every page that data cannot be kept, and what would help. */
export function HealthBar() {
  const health = useHealth();
  if (!health?.message) {
    return null;
  }
  return (
    <div role="alert" className="flex gap-3 border-b border-bad px-5 py-2">
      <b className="shrink-0 text-bad">
        {health.state === 'DISK_FULL' ? 'Disk nearly full' : 'Database down'}
      </b>
      <span>{health.message}</span>
    </div>
  );
}
