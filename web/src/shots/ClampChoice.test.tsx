// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Run, Shot } from '../api/client';
import { useChangeShot, useShots } from '../api/queries';
import { closePage, FakeServer, openPage, RUN, saying, SHOT, show, type Asked } from '../test/page';
import { ClampChoice } from './ClampChoice';

function Part() {
  const shot = useShots().data?.[0];
  const change = useChangeShot();
  return shot ? (
    <ClampChoice
      shot={shot}
      put={(part) => change.mutateAsync({ id: shot.id, part }).then(() => undefined)}
    />
  ) : null;
}

const clamped = (n: number) => saying({ recipe: { bounces: { indirectClamp: n } } });

const taken = (id: number, shareCut: number | null, clamp: number, camera = 'wide'): Run => ({
  ...RUN,
  id,
  shareCut,
  settings: { ...RUN.settings, camera, settings: clamped(clamp) },
});

describe('the clamp of bounced light', () => {
  let kept: Shot;
  let runs: Run[];

  beforeEach(() => {
    openPage();
    kept = { ...SHOT, settings: { ...clamped(10), clips: ['a'] } };
    runs = [];
    new FakeServer()
      .on('GET /api/shots?production=1', () => ({ body: [kept] }))
      .on('GET /api/runs?production=1', () => ({ body: runs }))
      .on('PUT /api/shots/7', (a: Asked) => {
        kept = { ...(a.body as Shot), version: kept.version + 1 };
        return { body: kept };
      });
  });
  afterEach(closePage);

  it('is set beside what else is said', async () => {
    const { user } = show(<Part />);
    const choose = async (now: string, next: RegExp) => {
      await user.click(await screen.findByLabelText(new RegExp(`^Clamp of .*: ${now}$`)));
      await user.click(screen.getByRole('option', { name: next }));
    };
    await choose('10 × white', /^30/);
    await waitFor(() => expect(kept.settings).toEqual({ ...clamped(30), clips: ['a'] }));
    await choose('30 × white', /^none/);
    await waitFor(() => expect(kept.settings).toEqual({ ...clamped(0), clips: ['a'] }));
    await choose('none', /default/);
    await waitFor(() => expect(kept.settings).toEqual({ ...clamped(10), clips: ['a'] }));
  });

  it('says what it took from that camera when it was last the same', async () => {
    runs = [
      taken(9, 0.5, 1),
      taken(8, 0.7, 10, 'close'),
      taken(7, null, 10),
      taken(6, 0.0404, 10),
      taken(5, 0.3, 10),
    ];
    show(<Part />);
    expect((await screen.findByText(/^clamped/)).textContent).toBe('clamped 4.0 % of the light');
  });
});
