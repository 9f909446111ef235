// @vitest-environment jsdom
import { screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { closePage, FakeServer, held, openPage, RECIPE, SHOT, show } from '../test/page';
import {
  queryClient,
  shotsQuery,
  useChangeRecipe,
  useChangeShot,
  useStartStrands,
} from './queries';

const PUT = 'PUT /api/shots/7';
const POST = 'POST /api/runs';

function Page() {
  const change = useChangeShot();
  const start = useStartStrands();
  return (
    <>
      <button onClick={() => change.mutate({ id: 7, part: { scale: 25 } })}>change</button>
      <button onClick={() => start.mutate({ strands: null, comb: null, warnings: null })}>
        start
      </button>
    </>
  );
}

/** Changes two parts of a recipe. */
function TwoParts() {
  const change = useChangeRecipe();
  const { denoising, bounces } = RECIPE.document;
  return (
    <>
      <button
        onClick={() =>
          change.mutate({ id: 21, part: { denoising: { ...denoising, picture: true } } })
        }
      >
        denoise
      </button>
      <button
        onClick={() => change.mutate({ id: 21, part: { bounces: { ...bounces, diffuse: 2 } } })}
      >
        bounces
      </button>
    </>
  );
}

it('sends quick changes of a recipe on top of each other', async () => {
  const slow = held();
  const server = new FakeServer().on('PUT /api/recipes/21', slow.route);
  queryClient.setQueryData(['recipes', 1], [RECIPE]);
  const { user } = show(<TwoParts />);
  await user.click(screen.getByText('denoise'));
  await user.click(screen.getByText('bounces'));
  // A list from before that comes in between must take neither change away.
  queryClient.setQueryData(['recipes', 1], [RECIPE]);
  server.on('PUT /api/recipes/21', ({ body }) => ({ body }));
  const first = server.all('PUT /api/recipes/21')[0]!.body as typeof RECIPE;
  slow.give({ body: { ...first, version: 2 } });
  await waitFor(() => expect(server.all('PUT /api/recipes/21')).toHaveLength(2));
  expect(server.all('PUT /api/recipes/21')[1]!.body).toMatchObject({
    version: 2,
    document: { bounces: { diffuse: 2 }, denoising: { picture: true } },
  });
});

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
