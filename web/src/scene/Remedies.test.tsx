// @vitest-environment jsdom
import { fireEvent, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { closePage, FakeServer, held, openPage, refusal, REVISION, show } from '../test/page';
import { Clips, SizeRows, useRead } from './Remedies';

const PUT = 'PUT /api/revisions/3/reading';

function Rows() {
  const read = useRead(REVISION);
  return (
    <>
      <SizeRows read={read} />
      <Clips animations={REVISION.report.animations} read={read} />
    </>
  );
}

const plays = () => screen.getByLabelText<HTMLInputElement>('dusk plays');

describe('how a file is read', () => {
  let server: FakeServer;
  beforeEach(() => {
    openPage();
    server = new FakeServer();
  });
  afterEach(closePage);

  it('shows what is wanted from the press until the file is read again', async () => {
    const file = held();
    server.on(PUT, file.route);
    show(<Rows />);
    fireEvent.click(plays());
    expect(plays().checked).toBe(false);
    expect(plays().disabled).toBe(true);
    file.give(refusal(409, 'dusk is needed.'));
    await screen.findByText('dusk is needed.');
    expect(plays().checked).toBe(true);
    expect(plays().disabled).toBe(false);
  });

  it('keeps the one change while the other is made', async () => {
    const file = held();
    server.on(PUT, file.route);
    const { user } = show(<Rows />);
    await user.click(screen.getByLabelText(/^Unit of the file/));
    await user.click(await screen.findByRole('option', { name: /centimetres/ }));
    await user.click(screen.getByLabelText(/^Up in the file/));
    await user.click(await screen.findByRole('option', { name: /its z axis/ }));
    file.give({ body: REVISION });
    await screen.findByText('The file’s z axis points up.');
    expect(server.all(PUT).map((a) => a.body)).toEqual([
      { scale: 0.01, up: 'y', without: [], files: {} },
      { scale: 0.01, up: 'z', without: [], files: {} },
    ]);
  });
});
