import type { Shot } from '../api/client';

/** What a shot's settings say, by groups. */
export type Groups = Record<string, Record<string, unknown> | undefined>;

export const settingsOf = (of: { settings: unknown }) => (of.settings ?? {}) as Groups;

/** A shot's settings with one of a group's said, or left to what is usual, beside all others. */
export function withSetting(shot: Shot, group: string, key: string, value: unknown): Partial<Shot> {
  const settings = settingsOf(shot);
  const changed = { ...settings[group], [key]: value };
  const said = Object.values(changed).some((v) => v !== undefined);
  return {
    settings: { ...settings, [group]: said ? changed : undefined } as unknown as Shot['settings'],
  };
}
