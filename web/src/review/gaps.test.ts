import { describe, expect, it } from 'vitest';
import { gapsText } from './gaps';

describe('gaps of a sequence', () => {
  it('are told in words, and none where every step is alike', () => {
    expect(gapsText([1, 2, 3])).toBeUndefined();
    expect(gapsText([1, 5, 9])).toBeUndefined();
    expect(gapsText([7])).toBeUndefined();
    expect(gapsText([1, 2, 4, 5, 9])).toBe('Not there: 3, 6 to 8.');
    expect(gapsText([1, 2, 4, 6, 8, 10, 12])).toBe('Not there: 3, 5, 7 and 2 more gaps.');
  });
});
