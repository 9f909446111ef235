import { describe, expect, it } from 'vitest';
import type { Recipe } from '../api/client';
import openapi from '../api/openapi.json';
import { differing, GROUPS, partOf, SETTINGS, settingId, settingName, valueOf } from './settings';

const RECIPE = {
  multipliers: {},
  filter: {},
  denoising: {},
  irradiance: {},
  sampling: { most: 64, least: 16, adaptive: false, noiseThreshold: 0.03, seconds: 0 },
  bounces: { diffuse: 6, indirectClamp: 4 },
} as unknown as Recipe;

const find = (id: string) => SETTINGS.find((s) => settingId(s) === id)!;

describe('settings of quality', () => {
  it('are all that a recipe has', () => {
    const schemas = openapi.components.schemas as unknown as Record<
      string,
      { properties: Record<string, { $ref?: string }> }
    >;
    const all = Object.entries(schemas['Recipe']!.properties).flatMap(([group, p]) =>
      Object.keys(schemas[p.$ref!.split('/').at(-1)!]!.properties).map((key) => `${group}.${key}`),
    );
    expect(SETTINGS.map(settingId).sort()).toEqual(all.sort());
    expect(GROUPS.flatMap(([, some]) => some)).toHaveLength(all.length);
  });

  it('have names of their own', () => {
    expect(new Set(SETTINGS.map(settingName)).size).toBe(SETTINGS.length);
  });

  it('are changed without what stands beside them', () => {
    const clamp = find('bounces.indirectClamp');
    expect(valueOf(RECIPE, clamp)).toBe(4);
    const part = partOf(RECIPE, clamp, 0);
    expect(part).toEqual({ bounces: { diffuse: 6, indirectClamp: 0 } });
    const other = { ...RECIPE, ...part };
    expect(
      SETTINGS.filter((s) => s.of === 'bounces' && differing(RECIPE, other).includes(s)),
    ).toEqual([clamp]);
  });
});
