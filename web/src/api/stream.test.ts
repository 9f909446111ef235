// @vitest-environment jsdom
import { afterEach, beforeEach, expect, it } from 'vitest';
import { closePage, openPage, Stream } from '../test/page';
import { LEAVE, SharedStream, type Heard } from './stream';

class Window {
  readonly heard: Heard[] = [];
  onmessage: MessagePort['onmessage'] = null;

  postMessage(h: Heard) {
    this.heard.push(h);
  }

  leave() {
    this.onmessage!.call(this as never, new MessageEvent('message', { data: LEAVE }));
  }
}

beforeEach(openPage);
afterEach(closePage);

it('is one stream that all windows hear from when they join until they leave', () => {
  const shared = new SharedStream();
  const [early, late] = [new Window(), new Window()];
  shared.join(early);
  const stream = Stream.all[0]!;
  stream.say('connected', '{}');
  stream.say('stale', '{"list":"SHOTS"}');
  shared.join(late);
  stream.say('beat', '{}');
  early.leave();
  stream.onerror!();
  expect(Stream.all).toHaveLength(1);
  expect(early.heard.map((h) => h.type)).toEqual(['connected', 'stale', 'beat']);
  // Whoever joins loads everything anew, and learns that the server is away.
  expect(late.heard.map((h) => h.type)).toEqual(['connected', 'beat', 'lost']);
  expect(early.heard[1]).toEqual({ type: 'stale', body: { list: 'SHOTS' } });
});
