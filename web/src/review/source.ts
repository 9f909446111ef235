import { useMemo, useSyncExternalStore } from 'react';
import {
  strandKey,
  type FootageInfo,
  type OutsideSequence,
  type RunStrand,
  type Shot,
} from '../api/client';
import { useProduction, useRunFrames, useRunStrands, useShots } from '../api/queries';
import { useFootage, useFootages, useSequences } from '../api/review';
import { usePlace } from '../shell/address';
import { useCurrentRun } from '../shell/current';
import { version } from '../shell/format';

export const FILM = 'film';

/** A shot in the film of all shots: some frames of a strand, from a number of the film on. */
export type Segment = { shot: Shot; run: RunStrand; frames: number[]; first: number };

/** What is looked at. */
export type Source = {
  /** `strand-12`, `sequence-3` or `film`. */
  key: string;
  title: string;
  detail: string;
  frames: number[];
  rate: number;
  /** Pixels; 0 if that is not known. */
  width: number;
  height: number;
  passes: FootageInfo['passes'];
  run?: RunStrand;
  sequence?: OutsideSequence;
  segments?: Segment[];
  /** Whose frame a frame is. */
  at: (frame: number) => { key: string; frame: number };
};

export const ended = (run: RunStrand) => run.state !== 'RUNNING' && run.state !== 'PAUSED';

const NO_FRAMES: number[] = [];

/** Which layer of each shot is in the film of all shots, as somebody chose. */
const CHOSEN = 'posada-film';
const heard = new Set<() => void>();
export const filmLayers = {
  text: () => sessionStorage.getItem(CHOSEN) ?? '{}',
  choose(shot: number, layer: number) {
    const all = JSON.parse(filmLayers.text()) as Record<string, number>;
    sessionStorage.setItem(CHOSEN, JSON.stringify({ ...all, [shot]: layer }));
    heard.forEach((h) => h());
  },
  listen(h: () => void) {
    heard.add(h);
    return () => void heard.delete(h);
  },
};

/** The newest strand of a shot that has pictures: of the layer that was chosen, if there is one. */
function newest(runs: RunStrand[], shot: Shot, layer: number | undefined) {
  const own = runs.filter((r) => r.shotId === shot.id && r.fresh > 0 && r.kind !== 'PROOF');
  return own.find((r) => r.layerId === layer) ?? own[0];
}

function useSegments(on: boolean): Segment[] | undefined {
  const runs = useRunStrands().data;
  const shots = useShots().data;
  const text = useSyncExternalStore(filmLayers.listen, filmLayers.text);
  const chosen = useMemo(() => {
    const layers = JSON.parse(text) as Record<string, number>;
    return on
      ? (shots ?? []).flatMap((shot) => {
          const run = newest(runs ?? [], shot, layers[shot.id]);
          return run ? [{ shot, run }] : [];
        })
      : [];
  }, [on, shots, runs, text]);
  const infos = useFootages(chosen.map((c) => strandKey(c.run.id)));
  const known = infos.map((i) => i?.frames.length ?? -1).join();
  return useMemo(() => {
    if (!on || !shots || known.split(',').includes('-1')) {
      return undefined;
    }
    let first = 1;
    return chosen.map((c, i) => {
      const frames = infos[i]!.frames;
      const segment = { ...c, frames, first };
      first += frames.length;
      return segment;
    });
    // The infos are new at every look; what matters of them is in `known`.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [on, shots, chosen, known]);
}

/** What the address says is looked at: undefined while that is not known, null for nothing. */
export function useSource(): Source | null | undefined {
  const asked = usePlace()?.footage;
  const runs = useRunStrands().data;
  const current = useCurrentRun();
  const run = current ?? runs?.find((r) => r.fresh > 0);
  const sequences = useSequences();
  const sequence = sequences?.find((s) => `sequence-${s.id}` === asked);
  const film = asked === FILM;
  const key = sequence ? `sequence-${sequence.id}` : !film && run ? strandKey(run.id) : undefined;
  // Its folder is filled with frames that stay while it is planned.
  const info = useFootage(key, run && `${run.state} ${run.planned === run.total}`).data;
  const lines = useRunFrames(sequence || film ? undefined : run?.id).data?.lines;
  const segments = useSegments(film);
  const rate = useProduction().data?.frameRate ?? 24;
  // Frames that were written since somebody last looked are pushed.
  const written = lines?.filter((l) => l.state === 'FRESH').map((l) => l.frame);
  const stamp = [...new Set([...(info?.frames ?? []), ...(sequence ? [] : (written ?? []))])]
    .sort((a, b) => a - b)
    .join();
  const frames = useMemo(() => (stamp ? stamp.split(',').map(Number) : NO_FRAMES), [stamp]);
  return useMemo(() => {
    if (film) {
      if (!segments) {
        return undefined;
      }
      const count = segments.reduce((n, s) => n + s.frames.length, 0);
      const first = segments[0]?.run;
      return count === 0
        ? null
        : {
            key: FILM,
            title: 'All shots',
            detail: `${segments.length} in order`,
            frames: Array.from({ length: count }, (_, i) => i + 1),
            rate,
            width: first!.width,
            height: first!.height,
            passes: [{ name: 'beauty', light: true }],
            segments,
            at: (f: number) => {
              const s = segments.findLast((o) => o.first <= f) ?? segments[0]!;
              return { key: strandKey(s.run.id), frame: s.frames[f - s.first] ?? s.frames[0]! };
            },
          };
    }
    if (sequence ? !info : !runs || !sequences || (run && (!info || !lines))) {
      return undefined;
    }
    if (frames.length === 0) {
      return null;
    }
    return {
      key: key!,
      title: sequence ? sequence.name : run!.shot,
      detail: sequence
        ? sequence.film
          ? 'film'
          : 'from elsewhere'
        : `${run!.layer} ${version(run!.number)}`,
      frames,
      rate: info!.frameRate,
      width: info!.width || (run?.width ?? 0),
      height: info!.height || (run?.height ?? 0),
      passes: info!.passes.length > 0 ? info!.passes : [{ name: 'beauty', light: true }],
      run: sequence ? undefined : run,
      sequence,
      at: (frame: number) => ({ key: key!, frame }),
    };
  }, [film, segments, rate, sequence, sequences, info, lines, runs, run, frames, key]);
}
