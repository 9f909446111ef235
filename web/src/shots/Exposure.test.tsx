// @vitest-environment jsdom
import { act, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Shot } from '../api/client';
import { queryClient, useChangeShot, useShots } from '../api/queries';
import {
  closePage,
  FakeServer,
  held,
  openPage,
  refusal,
  saying,
  SHOT,
  show,
  type Asked,
} from '../test/page';
import type { Brightness } from '../picture/LivePicture';
import { BrightnessNote, Exposure } from './Exposure';

const PUT = 'PUT /api/shots/7';
const METER = 'POST /api/shots/7/meter?layer=11';

function Part({ white, black, lost }: Brightness) {
  const shot = useShots().data?.[0];
  const change = useChangeShot();
  return shot ? (
    <>
      <Exposure
        shot={shot}
        put={(part) =>
          change.mutateAsync({ id: shot.id, part }).then(
            () => undefined,
            (e: Error) => e.message,
          )
        }
      />
      <p>
        seen: <BrightnessNote shot={shot} of={{ white, black, lost }} />
      </p>
    </>
  ) : null;
}

describe('exposure of a shot', () => {
  let server: FakeServer;
  let kept: Shot;

  beforeEach(() => {
    openPage();
    kept = {
      ...SHOT,
      settings: { ...SHOT.settings, ...saying({ lens: { fStop: 4 }, clips: ['a'] }) },
    };
    server = new FakeServer()
      .on('GET /api/shots?production=1', () => ({ body: [kept] }))
      .on(METER, { stops: -11.5 })
      .on(PUT, (a: Asked) => {
        kept = { ...(a.body as Shot), version: kept.version + 1 };
        return { body: kept };
      });
  });
  afterEach(closePage);

  async function open(white = 0, black = 0, lost = false) {
    const page = show(<Part white={white} black={black} lost={lost} />);
    const field = await screen.findByLabelText<HTMLInputElement>('Exposure in stops');
    const type = async (text: string) => {
      await page.user.clear(field);
      await page.user.type(field, `${text}{Enter}`);
    };
    return { ...page, field, type };
  }

  it('is set beside what else is said', async () => {
    const { field, type } = await open();
    expect(field.value).toBe('0');
    await type('-2.5');
    await waitFor(() =>
      expect(kept.settings).toMatchObject(
        saying({ lens: { fStop: 4, exposure: -2.5 }, clips: ['a'] }),
      ),
    );
    await type('0');
    await waitFor(() =>
      expect(kept.settings).toMatchObject(saying({ lens: { fStop: 4 }, clips: ['a'] })),
    );
    // What is no number is the server's to refuse, with its words.
    server.on(PUT, () => refusal(400, 'lens.exposure must be a number (got much)'));
    await type('much');
    await waitFor(() => expect(field.getAttribute('aria-invalid')).toBe('true'));
    expect(server.all(PUT).at(-1)!.body).toMatchObject({
      settings: { lens: { exposure: 'much' } },
    });
    expect(field.value).toBe('much');
  });

  it('is metered, and says so while it takes time', async () => {
    const { user, field } = await open();
    const slow = held();
    server.on(METER, slow.route);
    await user.click(screen.getByRole('button', { name: 'Meter' }));
    expect(await screen.findByRole('button', { name: 'Stop metering' })).toBeTruthy();
    // What is changed meanwhile stays.
    await act(() =>
      queryClient.setQueryData(['shots', 1], [{ ...kept, settings: saying({ clips: ['b'] }) }]),
    );
    slow.give({ body: { stops: -11.5 } });
    await waitFor(() => expect(field.value).toBe('-11.5'));
    expect(kept.settings).toMatchObject(saying({ lens: { exposure: -11.5 }, clips: ['b'] }));
  });

  it('stays as it is when metering is stopped, from wherever that is', async () => {
    const { user, field } = await open(0.9, 0, true);
    const slow = held();
    server.on(METER, slow.route).on('DELETE /api/shots/7/meter', () => {
      slow.give({ body: { stops: null } });
      return { body: undefined };
    });
    await user.click(screen.getByRole('button', { name: 'Meter' }));
    await waitFor(() => expect(screen.getAllByRole('button', { name: /Stop/ })).toHaveLength(2));
    await user.click(screen.getAllByRole('button', { name: 'Stop metering' })[1]!);
    expect(await screen.findByRole('button', { name: 'Meter the exposure' })).toBeTruthy();
    expect(server.all(METER)).toHaveLength(1);
    expect(server.all(PUT)).toHaveLength(0);
    expect(field.value).toBe('0');
  });

  it('that cannot be metered stays as it is', async () => {
    const { user, field } = await open();
    server.on(METER, () => refusal(400, 'camera "wide" sees no light'));
    await user.click(screen.getByRole('button', { name: 'Meter' }));
    await waitFor(() => expect(server.all(METER)).toHaveLength(1));
    expect(await screen.findByRole('button', { name: 'Meter' })).toHaveProperty('disabled', false);
    expect(server.all(PUT)).toHaveLength(0);
    expect(field.value).toBe('0');
  });

  it('that is keyed is told and not touched', async () => {
    kept = { ...SHOT, settings: { ...SHOT.settings, ...saying({ lens: { exposure: [[0, 1]] } }) } };
    show(<Part white={0} black={0} lost={false} />);
    expect(await screen.findByText('keyed in the settings')).toBeTruthy();
    expect(screen.queryByLabelText('Exposure in stops')).toBeNull();
  });

  it.each([
    [0.004, 0, 'seen: ', false],
    [0.031, 0.2, 'seen: 3.1 % clipped', false],
    [0.934, 0, 'seen: 93 % clipped · Meter the exposure', true],
    [0, 0.7, 'seen: 70 % black · Meter the exposure', true],
  ])('where %f is white and %f black offers a way out', async (white, black, text, lost) => {
    const { user, field } = await open(white, black, lost);
    expect(screen.getByText(/^seen/).textContent).toBe(text);
    if (lost) {
      await user.click(screen.getByRole('button', { name: 'Meter the exposure' }));
      await waitFor(() => expect(field.value).toBe('-11.5'));
    }
  });
});
