// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Run, Shot } from '../api/client';
import { useChangeShot, useShots } from '../api/queries';
import { closePage, FakeServer, openPage, RUN, SHOT, show, type Asked } from '../test/page';
import { LimitChoice } from './LimitChoice';

function Part() {
  const shot = useShots().data?.[0];
  const change = useChangeShot();
  return shot ? (
    <LimitChoice
      shot={shot}
      put={(part) => change.mutateAsync({ id: shot.id, part }).then(() => undefined)}
    />
  ) : null;
}

const taken = (id: number, shareCut: number | null, settings: object, camera = 'wide') =>
  ({ ...RUN, id, shareCut, settings: { ...RUN.settings, camera, settings } }) as unknown as Run;

describe('the limit for bounced light', () => {
  let kept: Shot;
  let runs: Run[];

  beforeEach(() => {
    openPage();
    kept = { ...SHOT, settings: { bounces: { diffuse: 6 }, clips: ['a'] } as never };
    runs = [];
    new FakeServer()
      .on('GET /api/shots', () => ({ body: [kept] }))
      .on('GET /api/runs', () => ({ body: runs }))
      .on('PUT /api/shots/7', (a: Asked) => {
        kept = { ...(a.body as Shot), version: kept.version + 1 };
        return { body: kept };
      });
  });
  afterEach(closePage);

  it('is set beside what else is said, and not said where it is as usual', async () => {
    const { user } = show(<Part />);
    const choose = async (now: string, next: RegExp) => {
      await user.click(await screen.findByLabelText(`Limit for bounced light: ${now}`));
      await user.click(screen.getByRole('option', { name: next }));
    };
    await choose('10', /^30/);
    await waitFor(() =>
      expect(kept.settings).toEqual({
        bounces: { diffuse: 6, indirectClamp: 30 },
        clips: ['a'],
      }),
    );
    await choose('30', /^none/);
    await waitFor(() => expect(kept.settings).toMatchObject({ bounces: { indirectClamp: 0 } }));
    await choose('none', /as usual/);
    await waitFor(() => expect(kept.settings).toEqual({ bounces: { diffuse: 6 }, clips: ['a'] }));
  });

  it('says what it took from that camera when it was last the same', async () => {
    runs = [
      taken(9, 0.5, { bounces: { indirectClamp: 1 } }),
      taken(8, 0.7, {}, 'close'),
      taken(7, null, {}),
      taken(6, 0.0404, {}),
      taken(5, 0.3, {}),
    ];
    show(<Part />);
    expect((await screen.findByText(/^took/)).textContent).toBe('took 4.0 % of the light');
  });
});
