import type { RunStrand } from '../api/client';
import {
  useProgress,
  useRunCommand,
  useRunDocument,
  useRunStrands,
  type RunCommand,
} from '../api/queries';
import { Button } from '../shell/Button';
import {
  count,
  EXTRAS,
  clipsOf,
  clipsText,
  duration,
  exposureText,
  clampText,
  capital,
  clockIn,
  passesText,
  rateText,
  readyText,
  revision,
  stillText,
} from '../shell/format';
import { isOpen, leftOf, secondsLeft } from '../shell/batch';
import { useTell } from '../shell/Notices';
import { ClampedLight } from '../shell/ClampedLight';
import { Panel } from '../shell/Panel';
import { Row } from '../shell/Row';
import { useChooseRun } from '../shell/current';
import { useTellingWhenDone } from '../shell/notify';
import { FilmsInWork } from './FilmsInWork';
import { Report } from './Report';

import { SequenceFiles } from '../shell/SequenceFiles';

/** How the light stands that the frames wait for. */
const BAKES: Record<RunStrand['bakes'][number]['state'], string> = {
  WAITING: 'waits to be baked',
  RENDERING: 'being baked',
  FRESH: 'baked',
  FAILED: 'failed',
  SKIPPED: 'left out',
};

/** How something stands that is made of the frames. */
const FINISHES: Record<RunStrand['finishes'][number]['state'], string> = {
  WAITING: 'waits for the frames',
  RENDERING: 'being made',
  FRESH: 'made',
  FAILED: 'failed',
  SKIPPED: 'left out',
};

/** Share of the light from which it is said that it was taken away. */
const NOTABLE_CUT = 0.01;

function Small(props: { onClick: () => void; children: string }) {
  return (
    <button
      className="min-h-6 underline decoration-t3 underline-offset-3 hover:text-t1"
      {...props}
    />
  );
}

/** The answer of the station: when it is ready, and what was frozen into the run. */
export function RunPanel({ run, all }: { run: RunStrand; all: RunStrand[] }) {
  const progress = useProgress();
  const command = useRunCommand();
  const tell = useTell();
  const choose = useChooseRun();
  const [telling, toggleTelling] = useTellingWhenDone();
  const now = progress?.strandId === run.id ? progress : null;
  const open = all.filter(isOpen);
  const others = (useRunStrands().data ?? []).some((r) => isOpen(r) && r.runId !== run.runId);
  const left = all.reduce((n, r) => n + leftOf(r), 0);
  const seconds = secondsLeft(all, progress);
  const tellFailure = { onError: (e: Error) => tell(e.message, { bad: true }) };
  const say = (c: RunCommand) => () => command.mutate({ strand: run.id, command: c }, tellFailure);
  const sayToAll = (c: RunCommand) => () =>
    command.mutate({ run: run.runId, command: c }, tellFailure);
  const actions = (
    <>
      <Button
        main={run.fresh > 0}
        disabled={run.fresh === 0}
        onClick={() => choose(run, { station: 'review' })}
      >
        Review
      </Button>
      {run.state === 'RUNNING' && <Button onClick={say('pause')}>Pause</Button>}
      {run.state === 'PAUSED' && (
        <Button main={run.fresh === 0} onClick={say('resume')}>
          Resume
        </Button>
      )}
      {isOpen(run) && <Button onClick={say('cancel')}>Cancel</Button>}
      {isOpen(run) && open.length > 1 && (
        <Button title="Before the other strands of this run" onClick={say('first')}>
          Render first
        </Button>
      )}
      {(run.state === 'CANCELLED' || run.state === 'FAILED') && (
        <Button main={run.fresh === 0} onClick={say('resume')}>
          Resume
        </Button>
      )}
    </>
  );
  return (
    <Panel label="Run" actions={actions}>
      <FilmsInWork />
      <div className="big" data-testid="ready">
        {run.state === 'RUNNING' && (now ? readyText(now) : stillText(run))}
        {run.state === 'PAUSED' && 'paused'}
        {run.state === 'DONE' && (run.saved === run.total ? 'all fresh' : 'done')}
        {run.state === 'FAILED' &&
          (run.failed ? `${run.failed} failed` : run.failure ? 'not started' : 'light failed')}
        {run.state === 'CANCELLED' && 'cancelled'}
      </div>
      <p className="mb-2 text-t2">
        {now ? `${duration(now.secondsLeft)} left · ` : ''}
        {run.fresh} of {run.total} frames
        {run.saved > 0 && ` · ${run.saved} were fresh`}
        {run.copied > 0 && ` · ${run.copied} copied`}
        {run.skipped > 0 && ` · ${run.skipped} left out`}
        {run.planned < run.total && isOpen(run) && ` · ${run.total - run.planned} to be looked at`}
      </p>
      {run.failure && <p className="mb-2 text-bad">{run.failure}</p>}
      {(all.length > 1 || others) && (
        <Row
          name={`Run ${run.run}`}
          hint={`${all.length} strands`}
          note={open.length > 0 && seconds !== undefined && `all ready ${clockIn(seconds)}`}
        >
          <span className="fig">{left > 0 ? `${count(left)} frames left` : 'nothing left'}</span>
          {open.length > 0 && (
            <span className="flex flex-wrap gap-x-3 text-t2">
              {open.some((r) => r.state === 'RUNNING') ? (
                <Small onClick={sayToAll('pause')}>Pause all</Small>
              ) : (
                <Small onClick={sayToAll('resume')}>Resume all</Small>
              )}
              <Small onClick={sayToAll('cancel')}>Cancel all</Small>
              {others && <Small onClick={sayToAll('first')}>Before other runs</Small>}
            </span>
          )}
        </Row>
      )}
      <Frozen run={run} />
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
      {run.finishes.map((f) => (
        <Row
          key={f.extra}
          name={capital(EXTRAS[f.extra])}
          hint={f.seconds !== null && duration(f.seconds)}
          note={f.failure}
        >
          <span title={f.file}>{FINISHES[f.state]}</span>
        </Row>
      ))}
      <SequenceFiles run={run} />
      {open.length === 0 && <Report run={run.runId} />}
      {open.length > 0 && (
        <button
          className="mt-3 min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1"
          aria-pressed={telling}
          onClick={() => void toggleTelling()}
        >
          {telling ? 'The browser says when it ends; stop that' : 'Say in the browser when it ends'}
        </button>
      )}
    </Panel>
  );
}

/** What was frozen when the strand was started. */
function Frozen({ run }: { run: RunStrand }) {
  const s = useRunDocument(run.id);
  if (!s) {
    return null;
  }
  const clips = clipsOf(s.settings);
  const exposure = exposureText(s.settings);
  return (
    <>
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
        <span className="fig">{run.frames}</span>
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
    </>
  );
}
