import { describe, expect, it } from 'vitest';
import { roughly, sumOf, takesText } from './estimate';

describe('what frames take', () => {
  it('is told no finer than it is known', () => {
    expect(takesText({ value: 3905, low: 3300, high: 4500 })).toBe('1 h 5 min ± 10 min');
    expect(roughly(41.2)).toBe('41 s');
  });

  it('adds up with its bands as squares', () => {
    const sum = sumOf([
      { value: 100, low: 97, high: 104 },
      { value: 50, low: 46, high: 53 },
    ]);
    expect(sum).toEqual({ value: 150, low: 145, high: 155 });
    expect(sumOf([])).toEqual({ value: 0, low: 0, high: 0 });
  });
});
