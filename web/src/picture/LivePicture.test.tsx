// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { act } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { closePage, openPage, show, Stream } from '../test/page';
import { LivePicture } from './LivePicture';

const update = (samples: number, noise: number | null) =>
  JSON.stringify({ width: 64, height: 36, samples, target: 16, noise, seconds: 1.25, data: 'AA' });

describe('live picture', () => {
  let room: (width: number, height: number) => void;

  beforeEach(() => {
    openPage();
    vi.stubGlobal(
      'ResizeObserver',
      class {
        constructor(heard: (e: unknown[]) => void) {
          room = (width, height) => act(() => heard([{ contentRect: { width, height } }]));
        }
        observe() {}
        disconnect() {}
      },
    );
  });
  afterEach(closePage);

  const asked = async (n: number) => {
    await waitFor(() => expect(Stream.all).toHaveLength(n));
    return Stream.all[n - 1]!;
  };
  const picture = (settings: string, frame = 24) => (
    <LivePicture shotId={7} layerId={1} frame={frame} settings={settings} aspect={16 / 9} />
  );

  it('is asked for at the size there is room for, and says how far it is', async () => {
    show(picture('a'));
    expect(screen.getByText('rendering …')).toBeTruthy();
    room(1000, 450);
    const stream = await asked(1);
    // 800 wide in a room 450 high, in steps of 64 pixels.
    expect(stream.url).toMatch(/^\/api\/shots\/7\/live\?viewer=\w+&frame=24&most=832&layer=1$/);
    stream.say('picture', update(0, null));
    expect(screen.getByText(/coarse/)).toBeTruthy();
    stream.say('picture', update(4, 0.0312));
    const figure = screen.getByRole('figure');
    expect(figure.textContent).toBe('noise 3.1 % · 4 of 16 samples · 1.3 s');
    expect(screen.getByTestId('live-picture').getAttribute('src')).toContain('base64,AA');
  });

  it('lets the old one go when something changes, and is not asked for when it is finished', async () => {
    const { change } = show(picture('a'));
    room(640, 360);
    const first = await asked(1);
    first.say('picture', update(16, null));
    change(picture('b'));
    const second = await asked(2);
    expect(first.closed).toBe(true);
    expect(second.closed).toBe(false);
    expect(screen.getByTestId('live-picture')).toBeTruthy();
    second.say('picture', update(16, null));
    act(() => second.onerror!());
    expect(second.closed).toBe(true);
    expect(Stream.all).toHaveLength(2);
    expect(screen.queryByText(/could not be had/)).toBeNull();
  });

  it('says why it failed until there is a picture again', async () => {
    show(picture('a'));
    room(640, 360);
    const stream = await asked(1);
    stream.say('failed', 'a texture is missing');
    expect(screen.getByText('a texture is missing')).toBeTruthy();
    expect(screen.queryByText('rendering …')).toBeNull();
    stream.say('picture', update(1, null));
    expect(screen.queryByText('a texture is missing')).toBeNull();
  });

  it('says so when the server gives none at all', async () => {
    show(picture('a'));
    room(640, 360);
    const stream = await asked(1);
    act(() => stream.onerror!());
    expect(screen.getByText(/could not be had/)).toBeTruthy();
    expect(stream.closed).toBe(true);
  });
});
