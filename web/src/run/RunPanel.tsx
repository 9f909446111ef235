import type { Run } from '../api/client';
import { useProgress, useRunCommand } from '../api/queries';
import { Button } from '../shell/Button';
import {
  count,
  clipsOf,
  clipsText,
  duration,
  exposureText,
  clampText,
  clockIn,
  passesText,
  rateText,
  readyText,
  revision,
  stillText,
} from '../shell/format';
import { leftOf, secondsLeft } from '../shell/batch';
import { useTell } from '../shell/Notices';
import { ClampedLight } from '../shell/ClampedLight';
import { Panel } from '../shell/Panel';
import { Row } from '../shell/Row';
import { useChooseRun } from '../shell/current';

import { SequenceFiles } from '../shell/SequenceFiles';

/** How the light stands that the frames wait for. */
const BAKES: Record<Run['bakes'][number]['state'], string> = {
  WAITING: 'waits to be baked',
  RENDERING: 'being baked',
  FRESH: 'baked',
  FAILED: 'failed',
  SKIPPED: 'left out',
};

/** Share of the light from which it is said that it was taken away. */
const NOTABLE_CUT = 0.01;

/** The answer of the station: when it is ready, and what was frozen into the run. */
export function RunPanel({ run, all }: { run: Run; all: Run[] }) {
  const progress = useProgress();
  const command = useRunCommand();
  const tell = useTell();
  const choose = useChooseRun();
  const now = progress?.runId === run.id ? progress : null;
  const running = all.filter((r) => r.state === 'RUNNING');
  const left = all.reduce((n, r) => n + leftOf(r), 0);
  const seconds = secondsLeft(all, progress);
  const s = run.settings;
  const clips = clipsOf(s.settings);
  const exposure = exposureText(s.settings);
  const tellFailure = { onError: (e: Error) => tell(e.message, { bad: true }) };
  const actions = (
    <>
      <Button
        main={run.fresh > 0}
        disabled={run.fresh === 0}
        onClick={() => choose(run, { station: 'review' })}
      >
        Review
      </Button>
      {run.state === 'RUNNING' && (
        <Button onClick={() => command.mutate({ run: run.id, command: 'cancel' }, tellFailure)}>
          {all.length > 1 ? 'Cancel this strand' : 'Cancel run'}
        </Button>
      )}
      {running.length > 1 && (
        <Button
          onClick={() =>
            running.forEach((r) => command.mutate({ run: r.id, command: 'cancel' }, tellFailure))
          }
        >
          Cancel all {running.length}
        </Button>
      )}
      {(run.state === 'CANCELLED' || run.state === 'FAILED') && (
        <Button
          main={run.fresh === 0}
          onClick={() => command.mutate({ run: run.id, command: 'resume' }, tellFailure)}
        >
          Resume
        </Button>
      )}
    </>
  );
  return (
    <Panel label="Run" actions={actions}>
      <div className="big" data-testid="ready">
        {run.state === 'RUNNING' && (now ? readyText(now) : stillText(run))}
        {run.state === 'DONE' && 'done'}
        {run.state === 'FAILED' && (run.failed ? `${run.failed} failed` : 'light failed')}
        {run.state === 'CANCELLED' && 'cancelled'}
      </div>
      <p className="mb-2 text-t2">
        {now ? `${duration(now.secondsLeft)} left · ` : ''}
        {run.fresh} of {run.total} frames
        {run.skipped > 0 && ` · ${run.skipped} left out`}
      </p>
      {all.length > 1 && (
        <Row
          name={`Run ${run.batch}`}
          hint={`${all.length} strands`}
          note={running.length > 0 && seconds !== undefined && `all ready ${clockIn(seconds)}`}
        >
          <span className="fig">{left > 0 ? `${count(left)} frames left` : 'nothing left'}</span>
        </Row>
      )}
      <Row name="Layer">{run.layer}</Row>
      <Row name="Camera">{s.camera}</Row>
      <Row name="Scene" hint={revision(s.revision)}>
        {s.scene}
      </Row>
      {clips && (
        <Row name="Animation">
          <span title={clips.join(', ')}>{clipsText(clips)}</span>
        </Row>
      )}
      <Row name="Frames" hint={rateText(s.frameRate)}>
        <span className="fig">{s.frames}</span>
      </Row>
      <Row name="Size" hint="px">
        <span className="fig">
          {s.width} × {s.height}
        </span>
      </Row>
      <Row name="Samples" hint="per pixel">
        <span className="fig">{s.settings.recipe.sampling.most}</span>
      </Row>
      <Row name="Passes">
        <span title={s.settings.passes.wanted.join(', ')}>
          {passesText(s.settings.passes.wanted)}
        </span>
      </Row>
      {exposure && (
        <Row name="Exposure">
          <span className="fig">{exposure}</span>
        </Row>
      )}
      {(run.shareCut ?? 0) >= NOTABLE_CUT && (
        <Row name="Clamp" hint={<ClampedLight from={run} />}>
          <span className="fig">{clampText(s.settings.recipe.bounces.indirectClamp)}</span>
        </Row>
      )}
      {run.bakes.map((b) => (
        <Row key="light" name="Light" hint={b.seconds !== null && duration(b.seconds)}>
          {BAKES[b.state]}
          {b.points !== null && <span className="fig"> · {count(b.points)} points</span>}
        </Row>
      ))}
      <Row name="Frame" hint="mean">
        <span className="fig">
          {run.secondsPerFrame === null ? '–' : duration(run.secondsPerFrame)}
        </span>
      </Row>
      <Row name="Started">
        <span className="fig">
          {new Date(run.startedAt).toLocaleTimeString([], { hour12: false })}
        </span>
      </Row>
      <SequenceFiles run={run} />
    </Panel>
  );
}
