// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Fault, FootageCheck, RunStrand } from '../api/client';
import { playhead } from '../shell/playhead';
import { closePage, FakeServer, openPage, RECIPE, refusal, RUN, show } from '../test/page';
import { Checks } from './Checks';
import { Decision } from './Decision';
import { SendBack } from './SendBack';
import type { Source } from './source';

const run: RunStrand = { ...RUN, state: 'DONE' };

const source: Source = {
  key: `strand-${run.id}`,
  title: run.shot,
  detail: 'main v001',
  frames: [1, 2, 3, 4],
  rate: 24,
  width: 200,
  height: 100,
  passes: [{ name: 'beauty', light: true }],
  run,
  at: (frame) => ({ key: `strand-${run.id}`, frame }),
};

const fault = (kind: Fault['kind'], frame: number, part: Partial<Fault> = {}): Fault => ({
  kind,
  frames: [frame],
  text: 'It is odd.',
  x: 0,
  y: 0,
  width: 0,
  height: 0,
  word: null,
  reason: '',
  who: '',
  ...part,
});

const check: FootageCheck = {
  frames: [1, 2, 3],
  light: [0.5, 0.5, 0.5],
  noise: [0.01, 0.02, 0.03],
  flicker: [0, 0.4, 0],
  bright: [0, 0, 2],
  change: [0, 0.1, 0.1],
  parts: -1,
  faults: [fault('FLICKER', 2), fault('MISSING', 4, { word: 'FINE', reason: 'cut', who: 'Ida' })],
};

const STARTED = `${run.shot} ${run.layer} is rendered again as v007, before the rest.`;

describe('judging a strand', () => {
  let server: FakeServer;

  beforeEach(() => {
    openPage();
    playhead.to(1);
    server = new FakeServer()
      .on('GET /api/runs/strands?production=1', [run])
      .on('GET /api/approvals?production=1', [])
      .on(`GET /api/approvals/${run.id}/changes`, { since: 0, frames: [1, 2, 3, 4] });
  });
  afterEach(closePage);

  it('tells findings with their curves, and takes a word with a reason', async () => {
    server.on(`PUT /api/footage/${source.key}/verdicts`, check);
    const { user } = show(
      <Checks source={source} check={check} error={null} onCheck={undefined} seconds={new Map()} />,
    );
    expect(screen.getByTestId('checked').textContent).toBe('3 frames checked: 1 to look at');
    expect(screen.getByTestId('curve-Flicker').textContent).toContain('most 40.00 % at 2');
    expect(screen.getByTestId('curve-Fireflies').querySelectorAll('path')).toHaveLength(0);
    expect(screen.getByTestId('curve-Flicker').querySelectorAll('path')).toHaveLength(1);
    expect(screen.getByText('fine: cut (Ida)')).toBeTruthy();
    expect(screen.getByText('not all in the file')).toBeTruthy();
    await user.click(screen.getByText('flicker'));
    expect(playhead.now()).toBe(2);
    await user.click(screen.getByText('fine …'));
    await user.type(screen.getByLabelText('Why it is fine'), 'a lamp is switched on{Enter}');
    await waitFor(() =>
      expect(server.all(`PUT /api/footage/${source.key}/verdicts`)[0]?.body).toEqual({
        kind: 'FLICKER',
        frame: 2,
        word: 'FINE',
        reason: 'a lamp is switched on',
        who: '',
      }),
    );
  });

  function Back({ box }: { box?: { x: number; y: number; width: number; height: number } }) {
    return (
      <SendBack
        source={source}
        wrong={[fault('FLICKER', 3, { frames: [3, 4], word: 'WRONG' })]}
        box={box}
        drawing={false}
        onDraw={() => undefined}
        onForget={() => undefined}
        inOut={undefined}
      />
    );
  }

  it('sends a box back with another recipe, and says what comes of it', async () => {
    server
      .on('GET /api/frames?text=3%2C4', { count: 2, first: 3, last: 4, shortest: '3,4' })
      .on('GET /api/frames?text=1', { count: 1, first: 1, last: 1, shortest: '1' })
      .on('POST /api/again', { ...run, number: 7 });
    const { user } = show(<Back box={{ x: 0.25, y: 0.5, width: 0.5, height: 0.25 }} />);
    expect(screen.getByText(`${run.width / 2} × ${run.height / 4}`)).toBeTruthy();
    await user.click(screen.getByText('the 2 frames called wrong'));
    await user.click(screen.getByLabelText(/How they are rendered again/));
    await user.click(await screen.findByText('with another recipe'));
    await user.click(screen.getByText('Render box again'));
    await waitFor(() =>
      expect(server.all('POST /api/again')[0]?.body).toEqual({
        strandId: run.id,
        frames: '3,4',
        recipeId: RECIPE.id,
        more: 0,
        x: 0.25,
        y: 0.5,
        width: 0.5,
        height: 0.25,
      }),
    );
    expect(await screen.findByText(STARTED)).toBeTruthy();
  });

  it('tells why frames cannot be sent back', async () => {
    server
      .on('GET /api/frames?text=1', { count: 1, first: 1, last: 1, shortest: '1' })
      .on('POST /api/again', () => refusal(409, 'Frame 1 is newest in v002, not in v001.'));
    const { user } = show(<Back />);
    await user.click(screen.getByText('Render again'));
    expect(await screen.findByText('Frame 1 is newest in v002, not in v001.')).toBeTruthy();
  });

  it('asks again about a new version, and shows what changed alone', async () => {
    server
      .on(`GET /api/approvals/${run.id}/changes`, { since: 2, frames: [3] })
      .on('POST /api/approvals', []);
    const only: (number[] | undefined)[] = [];
    const { user } = show(
      <Decision source={source} main only={undefined} onOnly={(f) => only.push(f)} />,
    );
    await screen.findByText(/is new since v002 was approved: 1 frame changed/);
    await user.click(screen.getByText('show only these'));
    expect(only).toEqual([[3]]);
    await user.click(screen.getByText('Turn down …'));
    await user.type(screen.getByLabelText('Who decides'), 'Ida');
    await user.type(screen.getByLabelText('Why it is turned down'), 'the rim');
    await user.click(screen.getByText('Turn down'));
    await waitFor(() =>
      expect(server.all('POST /api/approvals')[0]?.body).toEqual({
        strands: [run.id],
        approved: false,
        who: 'Ida',
        note: 'the rim',
      }),
    );
  });
});
