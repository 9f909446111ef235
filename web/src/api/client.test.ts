// @vitest-environment jsdom
import { afterEach, describe, expect, it, vi } from 'vitest';
import {
  answer,
  api,
  AS_DELIVERED,
  footagePicture,
  framePicture,
  picture,
  Problem,
} from './client';

function answers(status: number, body: string) {
  const asked = vi.fn<typeof fetch>(() => Promise.resolve(new Response(body, { status })));
  vi.stubGlobal('fetch', asked);
  return asked;
}

const runs = () => answer(api.GET('/api/runs/strands', { params: { query: { production: 7 } } }));
const failure = (p: Promise<unknown>) => p.then(() => undefined).catch((e: unknown) => e as Error);

afterEach(() => vi.unstubAllGlobals());

describe('asking the server', () => {
  it('gives what it answers', async () => {
    const asked = answers(200, '{"id":7}');
    expect(await runs()).toEqual({ id: 7 });
    const body = { name: 'pass', copyOf: null };
    expect(await answer(api.POST('/api/productions', { body }))).toEqual({ id: 7 });
    const [first, second] = asked.mock.calls.map(([r]) => r as Request);
    expect(first!.url).toBe(`${location.origin}/api/runs/strands?production=7`);
    expect(second!.method).toBe('POST');
    expect(await second!.json()).toEqual(body);
    expect(second!.headers.get('X-Window')).toBe(first!.headers.get('X-Window'));
    expect(first!.headers.get('X-Window')).toMatch(/.{16}/);
  });

  it('takes an empty answer for nothing', async () => {
    vi.stubGlobal('fetch', () => Promise.resolve(new Response(null, { status: 204 })));
    expect(
      await answer(api.DELETE('/api/shots/{id}', { params: { path: { id: 7 } } })),
    ).toBeUndefined();
  });

  it('has the sentence of a refusal, or at least its number', async () => {
    answers(400, '{"detail":"samples must be 1 .. 65536 (got 0)"}');
    const told = await failure(runs());
    expect(told).toBeInstanceOf(Problem);
    expect(told!.message).toBe('samples must be 1 .. 65536 (got 0)');
    answers(502, '<html>');
    expect((await failure(runs()))!.message).toBe('The server answered 502.');
    answers(404, '{}');
    const missing = await failure(picture('/x', new AbortController().signal));
    expect(missing!.message).toBe('The server answered 404.');
  });

  it('tells a server that is away from a question that was taken back', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('failed')));
    const away = await failure(runs());
    expect(away).toBeInstanceOf(Problem);
    expect(away!.message).toContain('is it running?');
    vi.stubGlobal('fetch', () => Promise.reject(new DOMException('stopped', 'AbortError')));
    const back = await failure(runs());
    expect(back).not.toBeInstanceOf(Problem);
    expect(back!.name).toBe('AbortError');
  });

  it('asks for another picture when the frame has changed', () => {
    const url = footagePicture('strand-3', 24, { pass: 'depth', stops: -1.5, gamma: 1 });
    expect(url).toBe('/api/footage/strand-3/frames/24/picture?pass=depth&stops=-1.5');
    // As it is delivered it is the small picture that is kept.
    expect(footagePicture('strand-3', 24, AS_DELIVERED)).toBe(
      '/api/footage/strand-3/frames/24/picture',
    );
    expect(framePicture(3, 24, { most: 320 })).toBe(
      '/api/footage/strand-3/frames/24/picture?most=320',
    );
  });
});
