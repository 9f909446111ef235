// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { closePage, FakeServer, held, openPage, SHOT, show } from '../test/page';
import { queryClient, shotsQuery, useChangeShot, useStartStrands } from './queries';

const PUT = 'PUT /api/shots/7';
const POST = 'POST /api/runs';

function Page() {
  const change = useChangeShot();
  const start = useStartStrands();
  return (
    <>
      <button onClick={() => change.mutate({ id: 7, part: { scale: 25 } })}>change</button>
      <button onClick={() => start.mutate(null)}>start</button>
    </>
  );
}

beforeEach(openPage);
afterEach(closePage);

it('starts a render after the changes before it, and holds up none after it', async () => {
  const [change, run] = [held(), held()];
  const server = new FakeServer().on(PUT, change.route).on(POST, run.route);
  queryClient.setQueryData(shotsQuery(1).queryKey, [SHOT]);
  const { user } = show(<Page />);
  const [changes, start] = [screen.getByText('change'), screen.getByText('start')];
  await user.click(changes);
  await user.click(start);
  await waitFor(() => expect(server.all(PUT)).toHaveLength(1));
  expect(server.all(POST)).toHaveLength(0);
  change.give({ body: SHOT });
  await waitFor(() => expect(server.all(POST)).toHaveLength(1));
  await user.click(changes);
  await waitFor(() => expect(server.all(PUT)).toHaveLength(2));
  run.give({ body: [] });
});
