// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Shot } from '../api/client';
import { useShots } from '../api/queries';
import {
  closePage,
  FakeServer,
  held,
  openPage,
  recipe,
  RECIPE,
  refusal,
  REVISION,
  RUN,
  SHOT,
  show,
  STRAND,
  type Asked,
} from '../test/page';
import { ShotSettings } from './ShotSettings';

const PUT = 'PUT /api/shots/7';

/** The settings of the first shot as the page knows it, or of the second. */
function Settings() {
  const [at, setAt] = useState(0);
  const shot = useShots().data?.[at];
  return shot ? (
    <>
      <ShotSettings key={shot.id} shot={shot} focusing={false} onFocusing={() => undefined} />
      <button onClick={() => setAt(1 - at)}>another shot</button>
    </>
  ) : null;
}

describe('settings of a shot', () => {
  let server: FakeServer;
  let kept: Shot;

  /** Takes every change, as the server does: each counts the version up. */
  const take = (a: Asked) => {
    kept = { ...(a.body as Shot), version: kept.version + 1 };
    return { body: kept };
  };

  async function open() {
    const page = show(<Settings />);
    await screen.findByLabelText('Name');
    await screen.findByText('96 of 1-96');
    return page;
  }

  beforeEach(() => {
    openPage();
    kept = SHOT;
    server = new FakeServer()
      .on('GET /api/shots?production=1', () => ({ body: [kept] }))
      .on('GET /api/revisions?production=1', [REVISION])
      .on('GET /api/runs/strands?production=1', [])
      .on('GET /api/passes', [])
      .on('GET /api/formats', { compressions: ['zip'], formats: [] })
      .on('GET /api/frames?text=1-96', { count: 96, first: 1, last: 96, shortest: '1-96' })
      .on('GET /api/frames?text=1-48', { count: 48, first: 1, last: 48, shortest: '1-48' })
      .on('GET /api/frames?text=1-96x4', { count: 24, first: 1, last: 93, shortest: '1-93x4' })
      .on(PUT, take);
  });
  afterEach(closePage);

  it('sends each change on top of the version that was answered last', async () => {
    const { user } = await open();
    const slow = held();
    server.on(PUT, slow.route);
    await user.click(screen.getByRole('radio', { name: '100 %' }));
    await user.click(screen.getByRole('radio', { name: '25 %' }));
    expect(screen.getByText('320 × 180')).toBeTruthy();
    expect(server.all(PUT)).toHaveLength(1);
    server.on(PUT, take);
    slow.give({ body: { ...SHOT, scale: 100, version: 2 } });
    await waitFor(() => expect(server.all(PUT)).toHaveLength(2));
    expect(server.all(PUT)[1]!.body).toMatchObject({ scale: 25, version: 2 });
    expect(screen.getByText('320 × 180')).toBeTruthy();
  });

  it('keeps what was typed when it is refused, and says why', async () => {
    const { user } = await open();
    server.on(PUT, () => refusal(400, 'frames: "9-" has no end'));
    const frames = screen.getByLabelText<HTMLInputElement>('Frames');
    await user.clear(frames);
    await user.type(frames, '9-{Enter}');
    await screen.findByText('pass-wide: frames: "9-" has no end');
    await waitFor(() => expect(frames.getAttribute('aria-invalid')).toBe('true'));
    expect(frames.value).toBe('9-');
    // Passing through it asks nothing again; a mended value does.
    await user.click(frames);
    await user.tab();
    expect(server.all(PUT)).toHaveLength(1);
    server.on(PUT, take);
    await user.clear(frames);
    await user.type(frames, '1-48{Enter}');
    await waitFor(() => expect(kept.frames).toBe('1-48'));
    await waitFor(() => expect(frames.getAttribute('aria-invalid')).toBe('false'));
    expect(screen.queryByText('pass-wide: frames: "9-" has no end')).toBeNull();
    expect(frames.value).toBe('1-48');
  });

  it('brings the old value back with Escape, and for an empty one', async () => {
    const { user } = await open();
    const name = screen.getByLabelText<HTMLInputElement>('Name');
    await user.type(name, '-b{Escape}');
    expect(name.value).toBe('pass-wide');
    await user.clear(name);
    await user.tab();
    expect(name.value).toBe('pass-wide');
    server.on(PUT, () => refusal(409, 'choose another name'));
    await user.type(name, '-b{Enter}');
    await screen.findByText('pass-wide: choose another name');
    await waitFor(() => expect(name.getAttribute('aria-invalid')).toBe('true'));
    await user.type(name, '{Escape}');
    expect(name.value).toBe('pass-wide');
    expect(screen.queryByText('pass-wide: choose another name')).toBeNull();
    expect(server.all(PUT)).toHaveLength(1);
  });

  it('leaves alone what is typed while the last value is on its way', async () => {
    const { user } = await open();
    const slow = held();
    server.on(PUT, slow.route);
    const name = screen.getByLabelText<HTMLInputElement>('Name');
    await user.type(name, '-b{Enter}');
    await user.type(name, 'c');
    slow.give({ body: { ...SHOT, name: 'pass-wide-b', version: 2 } });
    await waitFor(() => expect(name.getAttribute('value')).toBe('pass-wide-bc'));
    server.on(PUT, take);
    await user.tab();
    await waitFor(() => expect(kept.name).toBe('pass-wide-bc'));
  });

  it('keeps what was refused while another shot is looked at', async () => {
    const other: Shot = { ...SHOT, id: 8, name: 'pass-close' };
    server.on('GET /api/shots?production=1', () => ({ body: [kept, other] }));
    const { user } = show(<Settings />);
    server.on(PUT, () => refusal(400, 'frames: "9-" has no end'));
    const frames = await screen.findByLabelText<HTMLInputElement>('Frames');
    await user.clear(frames);
    await user.type(frames, '9-');
    await user.click(screen.getByRole('button', { name: 'another shot' }));
    await screen.findByText('pass-wide: frames: "9-" has no end');
    expect(screen.getByLabelText<HTMLInputElement>('Frames').value).toBe('1-96');
    await user.click(screen.getByRole('button', { name: 'another shot' }));
    const again = screen.getByLabelText<HTMLInputElement>('Frames');
    expect(again.value).toBe('9-');
    expect(again.getAttribute('aria-invalid')).toBe('true');
    expect(screen.getAllByText('pass-wide: frames: "9-" has no end')).toHaveLength(1);
    await user.type(again, '{Escape}');
    expect(again.value).toBe('1-96');
    await user.click(screen.getByRole('button', { name: 'another shot' }));
    await user.click(screen.getByRole('button', { name: 'another shot' }));
    expect(screen.getByLabelText<HTMLInputElement>('Frames').value).toBe('1-96');
    expect(screen.queryByText('pass-wide: frames: "9-" has no end')).toBeNull();
  });

  it('marks what is refused only after its shot was left and opened again', async () => {
    const other: Shot = { ...SHOT, id: 8, name: 'pass-close' };
    server.on('GET /api/shots?production=1', () => ({ body: [kept, other] }));
    const { user } = show(<Settings />);
    const slow = held();
    server.on(PUT, slow.route);
    await user.type(await screen.findByLabelText('Name'), '-b');
    await user.click(screen.getByRole('button', { name: 'another shot' }));
    await user.click(screen.getByRole('button', { name: 'another shot' }));
    slow.give(refusal(409, 'choose another name'));
    const name = screen.getByLabelText<HTMLInputElement>('Name');
    await waitFor(() => expect(name.getAttribute('aria-invalid')).toBe('true'));
    expect(name.value).toBe('pass-wide-b');
    expect(screen.getAllByText('pass-wide: choose another name')).toHaveLength(1);
  });

  it('keeps a refusal while other things are changed, and drops it when the range is', async () => {
    kept = { ...SHOT, frames: '1-48' };
    const { user } = show(<Settings />);
    const frames = await screen.findByLabelText<HTMLInputElement>('Frames');
    await screen.findByRole('button', { name: 'Extend to 96' });
    server.on(PUT, () => refusal(400, 'frames: "9-" has no end'));
    await user.clear(frames);
    await user.type(frames, '9-{Enter}');
    await waitFor(() => expect(frames.getAttribute('aria-invalid')).toBe('true'));
    server.on(PUT, take);
    await user.click(screen.getByRole('radio', { name: '25 %' }));
    await waitFor(() => expect(kept.scale).toBe(25));
    expect(frames.value).toBe('9-');
    expect(screen.getByText('pass-wide: frames: "9-" has no end')).toBeTruthy();
    await user.click(await screen.findByRole('button', { name: 'Extend to 96' }));
    await waitFor(() => expect(kept.frames).toBe('1-96'));
    await waitFor(() => expect(frames.value).toBe('1-96'));
    expect(frames.getAttribute('aria-invalid')).toBe('false');
    await waitFor(() =>
      expect(screen.queryByText('pass-wide: frames: "9-" has no end')).toBeNull(),
    );
  });

  it('takes a refusal along when one goes to another shot', async () => {
    const { user, change } = await open();
    server.on(PUT, () => refusal(409, 'choose another name'));
    const name = screen.getByLabelText<HTMLInputElement>('Name');
    await user.type(name, '-b{Enter}');
    await waitFor(() => expect(name.getAttribute('aria-invalid')).toBe('true'));
    expect(screen.getByText('pass-wide: choose another name')).toBeTruthy();
    change(<p>another shot</p>);
    await waitFor(() => expect(screen.queryByText('pass-wide: choose another name')).toBeNull());
  });

  it('shows what the server made of a value', async () => {
    const { user } = await open();
    server.on(PUT, (a) => take({ ...a, body: { ...(a.body as Shot), frames: '1-96x4' } }));
    const frames = screen.getByLabelText<HTMLInputElement>('Frames');
    await user.clear(frames);
    await user.type(frames, '1 - 96 x 4{Enter}');
    await waitFor(() => expect(frames.value).toBe('1-96x4'));
  });

  it('says when a range misses the end of the animation, and mends it', async () => {
    kept = { ...SHOT, frames: '1-48' };
    const { user } = show(<Settings />);
    await screen.findByText(/goes on to frame 96; this range ends at 48/);
    await user.click(screen.getByRole('button', { name: 'Extend to 96' }));
    await waitFor(() => expect(kept.frames).toBe('1-96'));
    await waitFor(() => expect(screen.queryByText(/this range ends/)).toBeNull());
  });

  it('says when frames follow the end of what plays', async () => {
    const clips = [
      { name: 'walk', start: 0, end: 2, channels: 3 },
      { name: 'run', start: 0, end: 1, channels: 3 },
    ];
    const report = { ...REVISION.report, animations: clips };
    server
      .on('GET /api/revisions?production=1', [{ ...REVISION, first: 0, last: 48, report }])
      .on('GET /api/frames?text=0-48', { count: 49, first: 0, last: 48, shortest: '0-48' })
      .on('GET /api/frames?text=0-24', { count: 25, first: 0, last: 24, shortest: '0-24' });
    kept = { ...SHOT, frames: '0-48' };
    const { user } = show(<Settings />);
    await user.click(await screen.findByRole('button', { name: 'Animation: all 2' }));
    expect(screen.queryByText(/goes on/)).toBeNull();
    await user.click(screen.getByRole('option', { name: /walk/ }));
    await user.keyboard('{Escape}');
    await screen.findByText(/ends at frame 24; this range goes on to 48/);
    expect(screen.getByText('49 in all')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Take 0-24' }));
    await screen.findByText('25 of 0-24');
    expect(kept).toMatchObject({ frames: '0-24', settings: { clips: ['run'] } });
    await waitFor(() => expect(screen.queryByText(/goes on/)).toBeNull());
  });

  it('does not take the last step of a range for a gap', async () => {
    kept = { ...SHOT, frames: '1-96x4' };
    show(<Settings />);
    await screen.findByText('24 of 1-96');
    expect(screen.queryByText(/this range ends/)).toBeNull();
  });

  it('names recipe, delivery and layers', async () => {
    const clean = { ...recipe({ denoising: { picture: true } }), id: 22, name: 'clean' };
    server.on('GET /api/recipes?production=1', [RECIPE, clean]);
    const { user } = await open();
    await user.click(await screen.findByRole('button', { name: 'Recipe: medium' }));
    await user.click(screen.getByRole('option', { name: /clean/ }));
    await screen.findByText('64 samples, denoised');
    await waitFor(() => expect(kept.recipeId).toBe(22));
    await user.click(screen.getByRole('button', { name: 'main' }));
    expect(screen.getByTestId('path').textContent).toBe('/larkspur-line/board');
  });

  it('tells what the shot costs', async () => {
    const figure = { value: 192, low: 180, high: 204 };
    server.on('GET /api/estimates?production=1', [
      {
        productionId: 1,
        shotId: SHOT.id,
        layerId: STRAND.layerId,
        rendered: 96,
        frames: 96,
        seconds: figure,
        bytes: { value: 2e6, low: 1e6, high: 3e6 },
        trials: 4,
        finished: 0,
        pending: false,
      },
    ]);
    show(<Settings />);
    expect((await screen.findByTestId('cost')).textContent).toBe('3 min ± 12 s');
    expect(screen.getByText('96 frames at 2.0 s, 2.0 MB; from 4 trial frames')).toBeTruthy();
  });

  it('puts a removed shot back', async () => {
    server
      .on('DELETE /api/shots/7', {})
      .on('POST /api/productions/1/undo', { sentence: 'removal of shot pass-wide' });
    const { user } = await open();
    await user.click(screen.getByRole('button', { name: 'Remove shot' }));
    await user.click(await screen.findByRole('button', { name: 'Undo' }));
    expect(await screen.findByText('Undone: removal of shot pass-wide.')).toBeTruthy();
  });

  it('goes to the run that was started, or stays and says why not', async () => {
    server.on('POST /api/runs', () => refusal(409, 'its files would land on others'));
    const { user } = await open();
    await user.click(screen.getByRole('button', { name: 'Start render' }));
    await screen.findByText('its files would land on others');
    expect(screen.getByTestId('path').textContent).toBe('/larkspur-line/shots');
    server.on('POST /api/runs', [RUN]);
    await user.click(screen.getByRole('button', { name: 'Start render' }));
    await waitFor(() =>
      expect(screen.getByTestId('path').textContent).toBe('/larkspur-line/run/pass-wide/v001'),
    );
  });

  it('takes a lens: keyed, focused on an object, and with motion blur that keeps its angle', async () => {
    const { user } = await open();
    const type = async (label: string, text: string) => {
      const field = screen.getByLabelText(label);
      await user.clear(field);
      await user.type(field, `${text}{Enter}`);
    };
    const pick = async (list: string, option: string) => {
      await user.click(await screen.findByLabelText(list));
      await user.click(await screen.findByRole('option', { name: option }));
    };
    await type('Focal length', '0:35 2.5:85');
    await waitFor(() =>
      expect(kept.settings.lens.focalLength).toEqual([
        [0, 35],
        [2.5, 85],
      ]),
    );
    await type('Film back', '24 × 16');
    await waitFor(() =>
      expect(kept.settings.lens).toMatchObject({ filmWidth: 24, filmHeight: 16 }),
    );
    await pick('Depth of field: off', 'on');
    await type('Focus distance in metres, or the name of an object', 'car-1');
    await waitFor(() => expect(kept.settings.lens.focusObject).toBe('car-1'));
    await type('Focus distance in metres, or the name of an object', '4.5');
    await waitFor(() =>
      expect(kept.settings.lens).toMatchObject({ focusObject: null, focusDistance: 4.5 }),
    );
    const { angle } = kept.settings.shutter;
    await pick('Motion blur: off', 'on');
    await pick('Motion blur: on', 'off');
    await waitFor(() => expect(kept.settings.shutter).toMatchObject({ motionBlur: false, angle }));
  });
});
