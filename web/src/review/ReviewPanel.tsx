import type { RunStrand } from '../api/client';
import { useRunDocument } from '../api/queries';
import type { PlayerReport } from '../picture/Player';
import { indexAt, type Track } from '../picture/playback';
import { Choice } from '../shell/Choice';
import { useChooseRun } from '../shell/current';
import { duration, rateText, timecode, version } from '../shell/format';
import { Panel } from '../shell/Panel';
import { Row } from '../shell/Row';
import { SequenceFiles } from '../shell/SequenceFiles';
import { usePlayhead } from '../shell/playhead';

/** Which sequence is watched, where, and where its files are. */
export function ReviewPanel({
  run,
  runs,
  track,
  report,
}: {
  run: RunStrand;
  runs: RunStrand[];
  track: Track;
  report: PlayerReport;
}) {
  const frame = usePlayhead();
  const choose = useChooseRun();
  const s = useRunDocument(run.id);
  const shown = track.frames[indexAt(track.frames, frame)]!;
  return (
    <Panel label="Sequence">
      <Choice
        label="Run"
        value={run.id}
        options={runs
          .filter((r) => r.fresh > 0)
          .map((r) => ({
            value: r.id,
            label: `${r.shot} ${version(r.number)}`,
            hint: `${r.fresh} of ${r.total}`,
          }))}
        onChange={(id) => choose(runs.find((r) => r.id === id)!)}
      />
      <div className="mt-2 mb-2">
        <div className="big" data-testid="frame">
          {shown}
        </div>
        <div className="fig text-t2" data-testid="timecode">
          {timecode(shown, track.rate)}
        </div>
      </div>
      <Row name="Frames" hint={rateText(track.rate)}>
        <span className="fig">{run.frames}</span>
      </Row>
      <Row name="Finished" hint={run.state === 'RUNNING' ? 'growing' : undefined}>
        {run.fresh} of {run.total}
      </Row>
      <Row name="Loaded" hint="for playing">
        {report.ready} of {track.frames.length}
      </Row>
      <Row name="Size" hint="px">
        <span className="fig">
          {run.width} × {run.height}
        </span>
      </Row>
      <Row name="Samples" hint="per pixel">
        {s?.settings.recipe.sampling.most}
      </Row>
      <Row name="Frame" hint="mean">
        {run.secondsPerFrame === null ? '–' : duration(run.secondsPerFrame)}
      </Row>
      <SequenceFiles run={run} />
    </Panel>
  );
}
