// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { act } from 'react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { PreviewJob } from '../api/client';
import { putPreview } from '../api/queries';
import { closePage, FakeServer, openPage, refusal, SHOT, show } from '../test/page';
import { DEFAULTS } from '../test/defaults';
import { PreviewButton } from './PreviewButton';

const POST = 'POST /api/shots/7/preview?layer=11';

const job = (part: Partial<PreviewJob>): PreviewJob => ({
  id: 1,
  shotId: 7,
  state: 'DRAWING',
  done: 0,
  total: 96,
  seconds: 0,
  width: 640,
  height: 360,
  problem: '',
  ...part,
});

describe('preview', () => {
  let server: FakeServer;

  beforeEach(() => {
    openPage();
    server = new FakeServer()
      .on('GET /api/frames?text=1-96', { count: 96, first: 1, last: 96, shortest: '1-96' })
      .on(POST, job({}));
  });
  afterEach(closePage);

  async function open(shot = SHOT) {
    const page = show(<PreviewButton shot={shot} />);
    await page.user.click(screen.getByRole('button', { name: 'Preview' }));
    await screen.findByText('640 × 360');
    return page;
  }

  it('draws what was chosen, and keeps the choice for the next time', async () => {
    const { user, unmount } = await open();
    await screen.findByText('96 drawn');
    await user.click(screen.getByRole('button', { name: 'Style: shaded' }));
    await user.click(await screen.findByRole('option', { name: 'clay' }));
    await user.click(screen.getByRole('button', { name: 'Frames: all' }));
    await user.click(await screen.findByRole('option', { name: 'every 4th' }));
    await screen.findByText('24 drawn');
    await user.click(screen.getByRole('button', { name: 'Watermark: none' }));
    await user.click(await screen.findByRole('option', { name: 'Larkspur Line' }));
    await user.click(screen.getByRole('button', { name: 'Make preview' }));
    await screen.findByText('0 of 96 frames');
    expect(server.all(POST)[0]!.body).toEqual({
      ...DEFAULTS.preview,
      look: { ...DEFAULTS.preview.look, style: 'clay' },
      scale: 50,
      every: 4,
      burnIns: ['frame', 'timecode', 'shot', 'camera', 'layer', 'lens', 'date'],
      watermark: 'Larkspur Line',
    });
    unmount();
    await open();
    expect(screen.getByRole('button', { name: 'Style: clay' })).toBeTruthy();
  });

  it('counts a range with a step whole, since it is drawn whole', async () => {
    server.on('GET /api/frames?text=1-96x8', { count: 12, first: 1, last: 89, shortest: '1-89x8' });
    await open({ ...SHOT, frames: '1-96x8' });
    await screen.findByText('96 drawn');
  });

  it('follows what is pushed, stops, and shows the film', async () => {
    server.on('GET /api/shots/7/preview', job({ done: 10, seconds: 0.5 }));
    const { user } = await open();
    await screen.findByText('10 of 96 frames');
    await screen.findByText('20.0 a second');
    act(() => putPreview(job({ done: 40, seconds: 2 })));
    await screen.findByText('40 of 96 frames');
    // What is late does not set it back.
    act(() => putPreview(job({ done: 30, seconds: 1.5 })));
    expect(screen.getByText('40 of 96 frames')).toBeTruthy();
    server.on('DELETE /api/shots/7/preview', job({ state: 'STOPPED', done: 40, seconds: 2 }));
    await user.click(screen.getByRole('button', { name: 'Stop' }));
    await screen.findByText('Stopped; nothing is kept.');
    act(() => putPreview(job({ id: 2, state: 'READY', done: 96, seconds: 5.2 })));
    const film = await screen.findByTestId<HTMLVideoElement>('preview-film');
    expect(film.getAttribute('src')).toBe('/api/shots/7/preview/2.mp4');
    expect(screen.getByText('96 frames, 640 × 360, drawn in 5.2 s')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Make again' })).toBeTruthy();
  });

  it('says why it was refused or failed', async () => {
    server.on(POST, () => refusal(400, 'a film needs 16 pixels at least'));
    const { user } = await open();
    await user.click(screen.getByRole('button', { name: 'Make preview' }));
    await screen.findByText('a film needs 16 pixels at least');
    server.on(POST, job({ id: 3 }));
    await user.click(screen.getByRole('button', { name: 'Make preview' }));
    await screen.findByText('0 of 96 frames');
    act(() => putPreview(job({ id: 3, state: 'FAILED', problem: 'the disk is full' })));
    await screen.findByText('the disk is full');
    await waitFor(() => expect(screen.queryByRole('button', { name: 'Stop' })).toBeNull());
  });
});
