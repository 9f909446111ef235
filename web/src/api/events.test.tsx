// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { act } from 'react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { closePage, FakeServer, held, openPage, RUN, SHOT, show, Stream } from '../test/page';
import { HealthBar } from '../shell/HealthBar';
import RunStation from '../run/RunStation';
import type { FrameLine, RunStrand, StrandFrames } from './client';
import { useServerEvents } from './events';

const stream = () => Stream.all[0]!;
const say = (type: string, body: unknown) => stream().say(type, JSON.stringify(body));

function Page() {
  return (
    <>
      <p>{useServerEvents() ? 'connected' : 'lost'}</p>
      <HealthBar />
      <RunStation />
    </>
  );
}

const line = (frame: number, part: Partial<FrameLine>): FrameLine => ({
  frame,
  source: frame,
  state: 'WAITING',
  attempts: 0,
  failure: null,
  fingerprint: `f${frame}`,
  seconds: null,
  ...part,
});

const LETTERS = { WAITING: 'W', RENDERING: 'R', FRESH: 'F', FAILED: 'X', SKIPPED: '-' };

/** Frames as the server tells them. */
const told = (lines: FrameLine[]): StrandFrames => ({
  frames: lines.map((l) => l.frame).join(),
  states: lines.map((l) => LETTERS[l.state]).join(''),
  seconds: lines.map((l) => l.seconds ?? 0),
  failures: lines.flatMap((l) =>
    l.failure
      ? [{ frame: l.frame, attempts: 1, setAside: l.state === 'FAILED', text: l.failure }]
      : [],
  ),
  newest: lines.filter((l) => l.state === 'FRESH').map((l) => l.frame),
});

describe('a run as it is pushed', () => {
  let server: FakeServer;
  let ledger: FrameLine[];
  let runs: RunStrand[];

  beforeEach(() => {
    openPage();
    ledger = [
      line(1, { state: 'FRESH', seconds: 2 }),
      line(2, { state: 'FRESH', seconds: 2 }),
      line(3, { state: 'RENDERING' }),
      line(4, {}),
    ];
    runs = [RUN];
    server = new FakeServer()
      .on('GET /api/runs/strands?production=1', () => ({ body: runs }))
      .on('GET /api/shots?production=1', [SHOT])
      .on('GET /api/runs/strands/5/frames', () => ({ body: told(ledger) }));
  });
  afterEach(closePage);

  async function open() {
    const page = show(<Page />);
    await screen.findByAltText('Frame 2');
    return page;
  }

  it('asks again if the list has changed while its first answer was on its way', async () => {
    const list = '/api/runs/strands?production=1';
    const asked = () => server.asked.filter((a) => a.path === list).length;
    const first = held();
    server.on(`GET ${list}`, first.route);
    show(<Page />);
    await waitFor(() => expect(asked()).toBe(1));
    server.on(`GET ${list}`, () => ({ body: runs }));
    say('stale', { list: 'RUNS' });
    first.give({ body: [] });
    await waitFor(() => expect(asked()).toBe(2));
  });

  it('asks again if a change was pushed while an answer from before was on its way', async () => {
    await open();
    const late = held();
    const list = '/api/runs/strands?production=1';
    server.on(`GET ${list}`, late.route);
    say('stale', { list: 'RUNS' });
    await waitFor(() => expect(server.all(`GET ${list}`)).toHaveLength(2));
    const ended: RunStrand = { ...RUN, state: 'CANCELLED' };
    server.on(`GET ${list}`, () => ({ body: [ended] }));
    say('strand', ended);
    late.give({ body: runs });
    await waitFor(() => expect(server.all(`GET ${list}`)).toHaveLength(3));
    await waitFor(() => expect(screen.getByTestId('ready').textContent).toBe('cancelled'));
  });

  it('shows each frame as it lands, and how far the next one is', async () => {
    await open();
    expect(screen.queryByAltText('Frame 3')).toBeNull();
    say('frame', { strandId: 5, line: line(3, { state: 'FRESH', seconds: 2.5 }) });
    await screen.findByAltText('Frame 3');
    say('progress', {
      strandId: 5,
      kind: 'FRAME',
      extra: null,
      frame: 4,
      fraction: 0.25,
      seconds: 0.6,
      secondsLeft: 1.8,
    });
    await waitFor(() =>
      expect(screen.getByTestId('in-work').textContent).toBe('frame 4 · 25 % · 0.6 s'),
    );
    // Another run's frame is none of this one's.
    say('progress', {
      strandId: 6,
      kind: 'FRAME',
      extra: null,
      frame: 1,
      fraction: 0.5,
      seconds: 1,
      secondsLeft: 1,
    });
    await waitFor(() =>
      expect(screen.getByTestId('in-work').textContent).toBe('waiting for the worker'),
    );
  });

  it('ends with what failed and why, and offers to resume', async () => {
    const { user } = await open();
    const why = 'the disk under /films is full';
    ledger = [...ledger.slice(0, 3), line(4, { state: 'FAILED', failure: why })];
    say('strand', { ...RUN, state: 'FAILED', fresh: 3, failed: 1 });
    await screen.findByText(why);
    expect(screen.getByText('Frame 4 failed.')).toBeTruthy();
    expect(screen.getByTestId('ready').textContent).toBe('1 failed');
    server.on('POST /api/runs/strands/5/resume', RUN);
    await user.click(screen.getByRole('button', { name: 'Resume' }));
    await waitFor(() => expect(server.all('POST /api/runs/strands/5/resume')).toHaveLength(1));
  });

  it('says what became of the light that frames wait for', async () => {
    await open();
    const bake = { state: 'RENDERING', points: null, seconds: null, attempts: 1, failure: null };
    say('strand', { ...RUN, bakes: [bake] });
    await screen.findByText('being baked');
    expect(screen.getByTestId('in-work').textContent).toBe('baking light');
    say('progress', {
      strandId: 5,
      kind: 'BAKE',
      extra: null,
      frame: null,
      fraction: 0.5,
      seconds: 61,
      secondsLeft: 60,
    });
    await waitFor(() =>
      expect(screen.getByTestId('in-work').textContent).toBe('baking light · 50 % · 1 min 1 s'),
    );
    const failure = 'the sail moves in frames 2 to 4';
    const failed = { ...bake, state: 'FAILED', failure };
    say('strand', { ...RUN, state: 'FAILED', skipped: 2, bakes: [failed] });
    await screen.findByText('Baked light failed.');
    expect(screen.getByText(failure)).toBeTruthy();
    expect(screen.getByTestId('ready').textContent).toBe('light failed');
  });

  it('puts a run that is new on top', async () => {
    await open();
    say('strand', { ...RUN, id: 9, run: 2, number: 2, fresh: 0 });
    await screen.findAllByText('v002');
    const numbers = screen.getAllByText(/^v00[12]$/).map((e) => e.textContent);
    expect(numbers.indexOf('v002')).toBeLessThan(numbers.indexOf('v001'));
  });

  it('asks for everything again after the server was away', async () => {
    await open();
    const before = server.all('GET /api/runs/strands?production=1').length;
    act(() => stream().onerror!());
    await screen.findByText('lost');
    runs = [{ ...RUN, state: 'CANCELLED' }];
    say('connected', {});
    await screen.findByText('connected');
    await waitFor(() => expect(screen.getByTestId('ready').textContent).toBe('cancelled'));
    expect(server.all('GET /api/runs/strands?production=1')).toHaveLength(before + 1);
  });

  it('is opened again when the browser has given it up', async () => {
    await open();
    act(() => {
      stream().readyState = Stream.CLOSED;
      stream().onerror!();
    });
    await screen.findByText('lost');
    await waitFor(() => expect(Stream.all).toHaveLength(2));
    Stream.all[1]!.say('connected', '{}');
    await screen.findByText('connected');
  });

  it('says what is wrong with the disk until it is mended', async () => {
    await open();
    const message = 'The disk is nearly full: 150 MB are free.';
    say('health', { state: 'DISK_FULL', message, freeBytes: 1, reserveBytes: 2 });
    expect((await screen.findByRole('alert')).textContent).toContain(message);
    say('health', { state: 'READY', message: null, freeBytes: 3, reserveBytes: 2 });
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
  });

  it('hangs up when the page goes', async () => {
    const { unmount } = await open();
    unmount();
    expect(stream().closed).toBe(true);
  });
});
