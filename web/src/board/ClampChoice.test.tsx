// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import { useState } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Recipe, RunStrand } from '../api/client';
import { closePage, FakeServer, openPage, recipe, RUN, show } from '../test/page';
import { ClampChoice } from './ClampChoice';

function Part({ put }: { put: (r: Recipe) => void }) {
  const [now, setNow] = useState(clamped(10));
  return (
    <ClampChoice
      recipe={now}
      camera="wide"
      put={(part) => {
        const next = { ...now, ...part };
        setNow(next);
        put(next);
      }}
    />
  );
}

const clamped = (n: number) =>
  recipe({ bounces: { indirectClamp: n }, denoising: { picture: true } }).document;

const taken = (id: number, shareCut: number | null, clamp: number, camera = 'wide'): RunStrand => ({
  ...RUN,
  id,
  shareCut,
  camera,
  clamp,
});

describe('the clamp of bounced light', () => {
  let runs: RunStrand[];

  beforeEach(() => {
    openPage();
    runs = [];
    new FakeServer().on('GET /api/runs/strands?production=1', () => ({ body: runs }));
  });
  afterEach(closePage);

  it('is set beside what else is said', async () => {
    const put = vi.fn();
    const { user } = show(<Part put={put} />);
    const choose = async (now: string, next: RegExp) => {
      await user.click(await screen.findByLabelText(new RegExp(`^Clamp of .*: ${now}$`)));
      await user.click(screen.getByRole('option', { name: next }));
    };
    await choose('10 × white', /^16/);
    expect(put).toHaveBeenLastCalledWith(clamped(16));
    await choose('16 × white', /^none/);
    expect(put).toHaveBeenLastCalledWith(clamped(0));
    await choose('none', /default/);
    expect(put).toHaveBeenLastCalledWith(clamped(4));
  });

  it('says what it took from that camera when it was last the same', async () => {
    runs = [
      taken(9, 0.5, 1),
      taken(8, 0.7, 10, 'close'),
      taken(7, null, 10),
      taken(6, 0.0404, 10),
      taken(5, 0.3, 10),
    ];
    show(<Part put={() => undefined} />);
    expect((await screen.findByText(/^clamped/)).textContent).toBe('clamped 4.0 % of the light');
  });
});
