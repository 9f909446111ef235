// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { useStrandView } from '../api/strands';
import { closePage, FakeServer, openPage, SHOT, show, STRAND } from '../test/page';
import { LayerPanel } from './LayerPanel';

function Current() {
  const strand = useStrandView(SHOT, 'main');
  return (
    strand && (
      <LayerPanel
        strand={strand}
        items={[]}
        chosen={new Set()}
        drawing={false}
        onDrawing={() => undefined}
      />
    )
  );
}

describe('the panel of a layer', () => {
  let server: FakeServer;
  beforeEach(() => {
    openPage();
    server = new FakeServer().on('GET /api/estimates?production=1', []);
  });
  afterEach(closePage);

  it('switches the strand of the shot that is looked at', async () => {
    server.on('PUT /api/strands?production=1', (asked) => {
      server.on('GET /api/strands?production=1', asked.body as object);
      return { body: asked.body };
    });
    const { user } = show(<Current />);
    await user.click(await screen.findByLabelText('Strand of pass-wide: on'));
    await user.click(await screen.findByRole('option', { name: /^off/ }));
    await screen.findByLabelText('Strand of pass-wide: off');
    expect(screen.getByText('no strand is on')).toBeTruthy();
    await waitFor(() =>
      expect(server.all('PUT /api/strands?production=1').map((a) => a.body)).toEqual([
        [{ ...STRAND, on: false }],
      ]),
    );
  });
});
