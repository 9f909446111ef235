// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Definition, Finding, LayerDocument, Recipe, Shot, Strand } from '../api/client';
import {
  closePage,
  FakeServer,
  LAYER,
  openPage,
  RECIPE,
  RUN,
  SHOT,
  show,
  STRAND,
} from '../test/page';
import BoardStation from './BoardStation';

const CAR: Definition<LayerDocument> = { ...LAYER, id: 12, name: 'car', place: 1 };

describe('the board', () => {
  let server: FakeServer;
  let strands: Strand[];
  let found: Finding[];

  beforeEach(() => {
    openPage();
    // Only rows that have room are drawn.
    vi.spyOn(Element.prototype, 'clientHeight', 'get').mockReturnValue(800);
    vi.spyOn(Element.prototype, 'clientWidth', 'get').mockReturnValue(1000);
    strands = [STRAND];
    found = [];
    server = new FakeServer()
      .on('GET /api/shots?production=1', [SHOT])
      .on('GET /api/revisions?production=1', [])
      .on('GET /api/runs/strands?production=1', [RUN])
      .on('GET /api/runs/checks?production=1', () => ({ body: { findings: found, pending: 0 } }))
      .on('GET /api/ledger?production=1', [])
      .on('GET /api/estimates?production=1', [])
      .on('GET /api/proofs?production=1', [])
      .on('GET /api/health', { freeBytes: 80e9 })
      .on('GET /api/passes', [
        { name: 'beauty', use: 'the picture' },
        { name: 'depth', use: 'what is where', holds: 'metres', units: 'm', cost: 'nothing' },
      ])
      .on('GET /api/formats', { compressions: ['zip'], formats: [] })
      .on('GET /api/frames?text=1-96', { count: 96, first: 1, last: 96, shortest: '1-96' })
      .on('GET /api/layers?production=1', [LAYER, CAR])
      .on('GET /api/strands?production=1', () => ({ body: strands }))
      .on('PUT /api/strands?production=1', ({ body }) => {
        const put = body as Strand[];
        strands = [...strands.filter((s) => !put.some((p) => p.layerId === s.layerId)), ...put];
        return { body: put };
      });
  });
  afterEach(closePage);

  it('switches strands on and off, one by one and by row', async () => {
    const { user } = show(<BoardStation />);
    await screen.findByText('1 of 2 on');
    await user.click(screen.getByLabelText('Switch pass-wide, layer car on'));
    await screen.findByText('2 of 2 on');
    await waitFor(() => expect(strands).toHaveLength(2));
    await user.click(screen.getByLabelText('Switch shot pass-wide off'));
    await screen.findByText('0 of 2 on');
    await waitFor(() => expect(strands.every((s) => !s.on)).toBe(true));
    expect(screen.getByText('Start 0 strands').hasAttribute('disabled')).toBe(true);
  });

  it('is gone over by keys', async () => {
    const { user } = show(<BoardStation />);
    (await screen.findByLabelText('pass-wide, layer main, on')).focus();
    await user.keyboard('{ArrowRight}');
    expect(screen.getByTestId('path').textContent).toBe('/larkspur-line/board/pass-wide/car');
    await user.keyboard(' ');
    await screen.findByLabelText('pass-wide, layer car, on');
  });

  it('changes what is said where it is said', async () => {
    let kept: Definition<Recipe> = RECIPE;
    let layer: Definition<LayerDocument> = LAYER;
    server
      .on('GET /api/recipes?production=1', () => ({ body: [kept] }))
      .on('PUT /api/recipes/21', ({ body }) => ({ body: (kept = body as typeof kept) }))
      .on('GET /api/layers?production=1', () => ({ body: [layer, CAR] }))
      .on('PUT /api/layers/11', ({ body }) => ({ body: (layer = body as typeof layer) }));
    const { user } = show(<BoardStation />);
    await user.click(await screen.findByRole('button', { name: 'Denoise: off' }));
    await user.click(await screen.findByRole('option', { name: 'on' }));
    await screen.findByText(/16 samples, denoised/);
    expect(kept.document.denoising.picture).toBe(true);
    await user.click(screen.getByRole('button', { name: /^Passes: / }));
    await user.click(await screen.findByRole('option', { name: /depth/ }));
    await waitFor(() => expect(layer.document.passes.wanted).toEqual(['beauty', 'depth']));
  });

  it('says what is wrong before it starts, and mends what it can', async () => {
    const about = { shot: 'pass-wide', layer: 'main' };
    found = [
      { ...about, severity: 'ERROR', rule: 'MEMORY', text: 'A frame needs 9 GB.', remedy: null },
      {
        ...about,
        severity: 'WARNING',
        rule: 'ANIMATION_CUT_OFF',
        text: 'Frames 1-48 leave some out.',
        remedy: { kind: 'FRAMES', value: '1-96' },
      },
    ];
    let kept: Shot = { ...SHOT, frames: '1-48' };
    server
      .on('GET /api/shots?production=1', () => ({ body: [kept] }))
      .on('GET /api/frames?text=1-48', { count: 48, first: 1, last: 48, shortest: '1-48' })
      .on('PUT /api/shots/7', ({ body }) => ({ body: (kept = body as Shot) }));
    const { user } = show(<BoardStation />);
    await user.click(await screen.findByRole('tab', { name: 'Before it starts 2' }));
    expect(screen.getByText('Start 1 strand').hasAttribute('disabled')).toBe(true);
    await screen.findByText('1 error, 1 warning');
    expect(screen.getByLabelText('Error')).toBeTruthy();
    await user.click(screen.getByText('Take frames 1-96'));
    await waitFor(() => expect(kept.frames).toBe('1-96'));
  });

  it('starts what is on', async () => {
    server.on('POST /api/runs', [RUN]);
    const { user } = show(<BoardStation />);
    await user.click(await screen.findByText('Start 1 strand'));
    await waitFor(() =>
      expect(screen.getByTestId('path').textContent).toBe('/larkspur-line/run/pass-wide/v001'),
    );
    expect(server.all('POST /api/runs')[0]!.body).toEqual({
      productionId: 1,
      strands: null,
      comb: false,
      warnings: [],
    });
  });
});
