import { describe, expect, it } from 'vitest';
import { Turns } from './turns';

const soon = () => new Promise((r) => setTimeout(r, 0));
const wanted = new AbortController().signal;

describe('turns', () => {
  it('lets no more begin than may, in their order', async () => {
    const turns = new Turns(2);
    const ends: (() => void)[] = [];
    const begun: number[] = [];
    for (let k = 0; k < 5; k++) {
      void turns.take(wanted, () => {
        begun.push(k);
        return new Promise<void>((r) => ends.push(r));
      });
    }
    await soon();
    expect(begun).toEqual([0, 1]);
    ends[1]!();
    await soon();
    expect(begun).toEqual([0, 1, 2]);
    ends[0]!();
    ends[2]!();
    await soon();
    expect(begun).toEqual([0, 1, 2, 3, 4]);
  });

  it('never begins what is no longer wanted, and goes on after what failed', async () => {
    const turns = new Turns(1);
    let fail = () => {};
    const first = turns.take(
      wanted,
      () => new Promise((_, no) => (fail = () => no(new Error('x')))),
    );
    const gone = new AbortController();
    let begun = false;
    const second = turns.take(gone.signal, async () => {
      begun = true;
    });
    const third = turns.take(wanted, async () => 3);
    gone.abort();
    fail();
    await expect(first).rejects.toThrow('x');
    await expect(second).rejects.toThrow();
    expect(await third).toBe(3);
    expect(begun).toBe(false);
  });
});
