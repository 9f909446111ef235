import { useMemo } from 'react';
import { footagePicture, snapshotPicture, strandKey, type Look } from '../api/client';
import { useSnapshots } from '../api/quality';
import { useRunStrands } from '../api/queries';
import { useFootage, useSequences } from '../api/review';
import { usePlace } from '../shell/address';
import type { Option } from '../shell/Choice';
import { version } from '../shell/format';
import { FILM, type Source } from './source';

const NONE = 'nothing';

/** What a strand can be compared with, and what was chosen. */
export function useAgainst(source: Source, look: Look, most: number) {
  const asked = usePlace()?.against;
  const runs = useRunStrands().data;
  const sequences = useSequences();
  const snapshots = useSnapshots();
  const options = useMemo<Option<string>[]>(() => {
    const shot = source.run?.shotId;
    return [
      { value: NONE, label: 'nothing' },
      ...(runs ?? [])
        .filter(
          (r) => r.fresh > 0 && strandKey(r.id) !== source.key && (!shot || r.shotId === shot),
        )
        .map((r) => ({
          value: strandKey(r.id),
          label: `${shot ? '' : `${r.shot} `}${r.layer} ${version(r.number)}`,
          hint: `run ${r.run}`,
        })),
      ...(sequences ?? [])
        .filter((s) => `sequence-${s.id}` !== source.key)
        .map((s) => ({ value: `sequence-${s.id}`, label: s.name, hint: 'from elsewhere' })),
      ...(snapshots ?? [])
        .filter((s) => !shot || s.shotId === shot)
        .map((s) => ({
          value: `snapshot-${s.id}`,
          label: s.name,
          hint: `snapshot of frame ${s.frame}`,
        })),
    ];
  }, [runs, sequences, snapshots, source.key, source.run]);
  const chosen = source.key !== FILM ? options.find((o) => o.value === asked) : undefined;
  const key = chosen && chosen.value !== NONE ? chosen.value : undefined;
  const snapshot = snapshots?.find((s) => `snapshot-${s.id}` === key);
  const frames = useFootage(key && !snapshot ? key : undefined).data?.frames;
  const urls = useMemo(() => {
    if (!key) {
      return undefined;
    }
    const there = new Set(frames);
    return source.frames.map((f) =>
      snapshot
        ? f === snapshot.frame
          ? snapshotPicture(snapshot.id)
          : undefined
        : there.has(f)
          ? footagePicture(key, f, { ...look, most })
          : undefined,
    );
  }, [key, frames, snapshot, source.frames, look, most]);
  return {
    options: source.key === FILM ? options.slice(0, 1) : options,
    value: key ?? NONE,
    name: chosen?.label,
    urls,
    /** The frame that a snapshot is of; undefined for what has all frames. */
    frameOf: (v: string) => snapshots?.find((s) => `snapshot-${s.id}` === v)?.frame,
  };
}

export const againstOf = (value: string) => (value === NONE ? undefined : value);
