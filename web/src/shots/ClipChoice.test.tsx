// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Clip, Shot } from '../api/client';
import { useChangeShot, useShots } from '../api/queries';
import { closePage, FakeServer, openPage, SHOT, show, type Asked } from '../test/page';
import { ClipChoice, playing } from './ClipChoice';

const PUT = 'PUT /api/shots/7';
const CLIPS: Clip[] = [
  { name: 'idle', start: 0, end: 4, channels: 9 },
  { name: 'walk', start: 0, end: 1, channels: 9 },
  { name: 'run', start: 0.5, end: 1.25, channels: 9 },
];

function Part({ clips }: { clips: Clip[] }) {
  const shot = useShots().data?.[0];
  const change = useChangeShot();
  return shot ? (
    <>
      <p>{playing(clips, shot).length} play</p>
      <ClipChoice
        shot={shot}
        clips={clips}
        put={(part) => change.mutateAsync({ id: shot.id, part }).then(() => undefined)}
      />
    </>
  ) : null;
}

describe('animations of a shot', () => {
  let kept: Shot;

  beforeEach(() => {
    openPage();
    kept = SHOT;
    new FakeServer()
      .on('GET /api/shots?production=1', () => ({ body: [kept] }))
      .on(PUT, (a: Asked) => {
        kept = { ...(a.body as Shot), version: kept.version + 1 };
        return { body: kept };
      });
  });
  afterEach(closePage);

  it('are chosen by name; all are what is usual', async () => {
    const { user } = show(<Part clips={CLIPS} />);
    await user.click(await screen.findByRole('button', { name: 'Animation: all 3' }));
    expect(screen.getByRole('option', { name: 'run 12-30' })).toBeTruthy();
    const pick = async (name: RegExp) => user.click(screen.getByRole('option', { name }));
    await pick(/run/);
    await waitFor(() =>
      expect(kept.settings).toEqual({ ...SHOT.settings, clips: ['idle', 'walk'] }),
    );
    await pick(/idle/);
    await waitFor(() => expect(kept.settings).toMatchObject({ clips: ['walk'] }));
    expect(await screen.findByText('1 play')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Animation: walk' })).toBeTruthy();
    expect(screen.getAllByText('0-24')).toHaveLength(2);
    await pick(/walk/);
    await waitFor(() => expect(kept.settings).toMatchObject({ clips: [] }));
    expect(await screen.findByText('0 play')).toBeTruthy();
    for (const name of [/run/, /idle/, /walk/]) {
      await pick(name);
    }
    await waitFor(() => expect(kept.settings).toEqual(SHOT.settings));
  });

  it('are no choice where there is one', async () => {
    show(<Part clips={CLIPS.slice(0, 1)} />);
    await screen.findByText('1 play');
    expect(screen.queryByText('Animation')).toBeNull();
  });

  it('that a newer file has lost can be left', async () => {
    kept = { ...SHOT, settings: { ...SHOT.settings, clips: ['gone'] } };
    const { user } = show(<Part clips={CLIPS.slice(0, 1)} />);
    await user.click(await screen.findByRole('button', { name: 'Animation: gone' }));
    await user.click(screen.getByRole('option', { name: /idle/ }));
    await waitFor(() => expect(kept.settings).toEqual(SHOT.settings));
  });
});
