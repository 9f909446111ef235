import { useState } from 'react';
import type { RunStrand } from '../api/client';
import { useLayers, useRunDocument, useRunStrands } from '../api/queries';
import { useCloseSequence, useOpenSequence, useSequenceRate, useSequences } from '../api/review';
import type { PlayerReport } from '../picture/Player';
import { useGo } from '../shell/address';
import { Choice } from '../shell/Choice';
import { useChooseRun } from '../shell/current';
import { bytes, duration, framesText, rateText, version } from '../shell/format';
import { MakeFilm } from '../shell/MakeFilm';
import { useTell } from '../shell/Notices';
import { Row } from '../shell/Row';
import { SequenceFiles } from '../shell/SequenceFiles';
import { gapsText } from './gaps';
import { OpenSequence } from './OpenSequence';
import { PackageDialog } from './PackageDialog';
import { FILM, filmLayers, type Segment, type Source } from './source';

const RATES = [12, 15, 23.976, 24, 25, 29.97, 30, 48, 50, 60];
const PRESS = 'min-h-6 underline underline-offset-3 hover:text-t1';

/** Which sequence is looked at, what it is, and where its files are. */
export function SequenceRows({ source, report }: { source: Source; report: PlayerReport }) {
  const runs = useRunStrands().data ?? [];
  const sequences = useSequences() ?? [];
  const choose = useChooseRun();
  const go = useGo();
  const [opening, setOpening] = useState(false);
  const [packing, setPacking] = useState(false);
  const to = (key: string) => {
    const run = runs.find((r) => `strand-${r.id}` === key);
    if (run) {
      choose(run, { footage: undefined, against: undefined });
    } else {
      go({ footage: key, against: undefined });
    }
  };
  return (
    <section aria-label="Sequence">
      <Row name="Shown">
        <Choice
          label="What is shown"
          value={source.key}
          options={[
            ...runs
              .filter((r) => r.fresh > 0)
              .map((r) => ({
                value: `strand-${r.id}`,
                label: `${r.shot} ${r.layer} ${version(r.number)}`,
                hint: r.kind === 'AGAIN' ? 'sent back' : `${r.fresh} of ${r.total}`,
              })),
            { value: FILM, label: 'All shots in order', hint: 'one film' },
            ...sequences.map((s) => ({
              value: `sequence-${s.id}`,
              label: s.name,
              hint: s.film ? 'film' : 'from elsewhere',
            })),
          ]}
          onChange={to}
        />
      </Row>
      <p className="flex flex-wrap gap-x-4 py-1 text-t2">
        <button className={PRESS} onClick={() => setOpening(true)}>
          Open a sequence …
        </button>
        <button className={PRESS} onClick={() => setPacking(true)}>
          Review package …
        </button>
        {source.key !== FILM && (
          <MakeFilm
            name={source.run ? `${source.run.shot}-${source.run.layer}` : source.title}
            title={source.title}
            footage={source.key}
          />
        )}
      </p>
      <Row name="Frames" hint={rateText(source.rate)} note={gapsText(source.frames)}>
        {framesText(source.frames.length)}
      </Row>
      <Row
        name="Loaded"
        hint={bytes(report.bytes)}
        note={`At most ${bytes(report.most)}; drawn as a line on the ribbon.`}
      >
        {report.cached.length} of {source.frames.length}
      </Row>
      <Row name="Size" hint="px">
        <span className="fig">
          {source.width} × {source.height}
        </span>
      </Row>
      {source.run && <OfRun run={source.run} />}
      {source.sequence && <Outside source={source} />}
      {source.segments && <Cut segments={source.segments} />}
      {opening && <OpenSequence onClose={() => setOpening(false)} />}
      {packing && <PackageDialog first={source.run} onClose={() => setPacking(false)} />}
    </section>
  );
}

function OfRun({ run }: { run: RunStrand }) {
  const s = useRunDocument(run.id);
  const open = useOpenSequence();
  const go = useGo();
  const tell = useTell();
  const film = run.finishes.find((f) => f.extra === 'film' && f.state === 'FRESH');
  return (
    <>
      <Row name="Finished" hint={run.state === 'RUNNING' ? 'growing' : undefined}>
        {run.fresh} of {run.total}
      </Row>
      {run.sentBack && <Row name="Sent back">{run.sentBack}</Row>}
      <Row name="Samples" hint="per pixel">
        {s?.settings.recipe.sampling.most}
      </Row>
      <Row name="Frame" hint="mean">
        {run.secondsPerFrame === null ? '–' : duration(run.secondsPerFrame)}
      </Row>
      {film && (
        <p className="py-1 text-t2">
          <button
            className={PRESS}
            disabled={open.isPending}
            onClick={() =>
              open.mutate(
                { path: film.file },
                {
                  onSuccess: ([first]) =>
                    go({ footage: `sequence-${first!.id}`, against: undefined }),
                  onError: (e) => tell(e.message, { bad: true }),
                },
              )
            }
          >
            Look at its film
          </button>
        </p>
      )}
      <SequenceFiles run={run} />
    </>
  );
}

function Outside({ source }: { source: Source }) {
  const s = source.sequence!;
  const rate = useSequenceRate();
  const close = useCloseSequence();
  const go = useGo();
  const rates = RATES.includes(s.frameRate) ? RATES : [s.frameRate, ...RATES];
  return (
    <>
      <Row name="Played at">
        <Choice
          label="Frame rate"
          value={s.frameRate}
          options={rates.map((r) => ({ value: r, label: rateText(r) }))}
          onChange={(frameRate) => rate.mutate({ id: s.id, frameRate })}
        />
      </Row>
      <h3 className="mt-3 font-[640]">{s.film ? 'Film' : 'Files'}</h3>
      <p className="fig mt-1 leading-4 break-all text-t2">{s.film ?? `${s.folder}/${s.pattern}`}</p>
      <button
        className={`${PRESS} text-t2`}
        onClick={() =>
          close.mutate(s.id, { onSuccess: () => go({ footage: undefined, against: undefined }) })
        }
      >
        Take it off the list
      </button>
    </>
  );
}

/** The shots of the film of all shots, each with its layer. */
function Cut({ segments }: { segments: Segment[] }) {
  const runs = useRunStrands().data ?? [];
  const layers = useLayers().data ?? [];
  const choose = useChooseRun();
  return (
    <ul className="mt-2" aria-label="Shots of the film">
      {segments.map(({ shot, run, first, frames }) => (
        <li key={shot.id} className="flex items-baseline gap-2 border-b border-line py-1">
          <span className="fig w-7 text-t2">{first}</span>
          <button
            className="min-h-6 truncate underline underline-offset-3"
            onClick={() => choose(run, { footage: undefined })}
          >
            {shot.name}
          </button>
          <span className="ml-auto shrink-0 whitespace-nowrap">
            <Choice
              label={`Layer of ${shot.name}`}
              value={run.layerId ?? 0}
              shown={`${run.layer} ${version(run.number)}`}
              options={layers
                .filter((l) => runs.some((r) => r.shotId === shot.id && r.layerId === l.id))
                .map((l) => ({ value: l.id, label: l.name }))}
              onChange={(layer) => filmLayers.choose(shot.id, layer)}
            />
          </span>
          <span className="fig w-7 text-right text-t3">{frames.length}</span>
        </li>
      ))}
    </ul>
  );
}
