import type { Shot } from '../api/client';
import type { Put as PutPart } from '../shell/Field';

export type Put = PutPart<Partial<Shot>>;

type Settings = Shot['settings'];

/** A shot's settings with some of them changed. */
export const withSettings = (shot: Shot, part: Partial<Settings>): Pick<Shot, 'settings'> => ({
  settings: { ...shot.settings, ...part },
});

export const withLens = (shot: Shot, part: Partial<Settings['lens']>) =>
  withSettings(shot, { lens: { ...shot.settings.lens, ...part } });
