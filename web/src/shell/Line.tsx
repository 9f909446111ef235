import { NavLink } from 'react-router';
import { strandKey } from '../api/client';
import { useStacks } from '../api/assembly';
import { useOpenFindings } from '../api/review';
import { addressOf, usePlace, type Station } from './address';
import { playhead } from './playhead';
import { useLayers, useRevisions, useRunStrands, useShots, useStrands } from '../api/queries';

type Stop = {
  name: string;
  station: Station;
  filled?: boolean;
  count?: number;
  /** What is counted. */
  of?: string;
};

/** The eight stations as stops on one line. */
export function Line() {
  const revisions = useRevisions().data ?? [];
  const shots = useShots().data ?? [];
  const runs = useRunStrands().data ?? [];
  const strands = useStrands().data ?? [];
  const layers = useLayers().data ?? [];
  const stacks = useStacks() ?? [];
  const open = new Map(useOpenFindings()?.map((c) => [c.key, c.open]));
  // Of each strand the newest version counts; runs come the newest first.
  const newest = [
    ...new Map(
      runs.toReversed().map((r) => [`${r.shotId} ${r.layerId}`, strandKey(r.id)]),
    ).values(),
  ];
  const stops: Stop[] = [
    { name: 'Scene', station: 'scene', filled: revisions.length > 0 },
    { name: 'Shots', station: 'shots', filled: shots.length > 0 },
    { name: 'Layers', station: 'layers', filled: layers.length > 1 },
    { name: 'Quality', station: 'quality', filled: strands.some((s) => s.on) },
    { name: 'Board', station: 'board', filled: strands.some((s) => s.on) },
    {
      name: 'Run',
      station: 'run',
      filled: runs.length > 0,
      count: runs.reduce((n, r) => n + r.failed, 0),
      of: 'failed frames',
    },
    {
      name: 'Review',
      station: 'review',
      filled: runs.some((r) => r.fresh > 0),
      count: newest.reduce((n, key) => n + (open.get(key) ?? 0), 0),
      of: 'findings to look at',
    },
    { name: 'Assembly', station: 'assembly', filled: stacks.length > 0 },
  ];
  return (
    <nav aria-label="Stations" className="relative mx-3 flex h-16 flex-1 justify-between">
      <div className="absolute top-[25px] right-8 left-8 h-0.5 bg-line" />
      {stops.map((s) => (
        <StopMark key={s.name} stop={s} />
      ))}
    </nav>
  );
}

function StopMark({ stop }: { stop: Stop }) {
  const box = 'relative flex w-17 flex-col items-center gap-1.5 pt-5 text-xs leading-4';
  const place = usePlace();
  if (!place) {
    return (
      <span className={`${box} text-t3`}>
        <i className="h-3 w-3 scale-75 rounded-full border-2 border-line bg-bg" />
        {stop.name}
      </span>
    );
  }
  return (
    <NavLink
      to={addressOf({ ...place, station: stop.station }, playhead.now())}
      className={({ isActive }) =>
        `${box} ${isActive ? 'font-semibold text-t1' : 'text-t2 hover:text-t1'}`
      }
    >
      {({ isActive }) => (
        <>
          <i
            className={`h-3 w-3 rounded-full ${
              isActive
                ? 'bg-mark shadow-[0_0_0_3px_var(--bg),0_0_0_5px_var(--mark)]'
                : stop.filled
                  ? 'bg-t2'
                  : 'border-2 border-t3 bg-bg'
            }`}
          />
          {stop.name}
          {!!stop.count && (
            <b
              className="fig absolute top-2.5 left-10 rounded-full border border-t2 bg-bg px-1 text-[9px] leading-3.5 text-t1"
              title={`${stop.count} ${stop.of}`}
            >
              {stop.count}
            </b>
          )}
        </>
      )}
    </NavLink>
  );
}
