import { describe, expect, it } from 'vitest';
import { DEFAULTS } from '../test/defaults';
import {
  everyText,
  exposureText,
  framesText,
  bytes,
  clockIn,
  count,
  duration,
  metres,
  passesText,
  rateText,
  timecode,
} from './format';

describe('time', () => {
  it('has frames of the nearest whole rate in its time code', () => {
    expect(timecode(0, 24)).toBe('00:00:00:00');
    expect(timecode(95, 24)).toBe('00:00:03:23');
    expect(timecode(96, 24)).toBe('00:00:04:00');
    expect(timecode(25, 24)).toBe('00:00:01:01');
    expect(timecode(24, 23.976)).toBe('00:00:01:00');
    expect(timecode(90_000, 25)).toBe('01:00:00:00');
    expect(timecode(30 * 3600 + 29, 29.97)).toBe('01:00:00:29');
    expect(timecode(25 * 86_400, 25)).toBe('00:00:00:00');
  });

  it('says how long something takes as people do', () => {
    expect(duration(4.22)).toBe('4.2 s');
    expect(duration(4.24)).toBe('4.2 s');
    expect(duration(9.96)).toBe('10 s');
    expect(duration(59.7)).toBe('1 min');
    expect(duration(200)).toBe('3 min 20 s');
    expect(duration(4320)).toBe('1 h 12 min');
    expect(duration(4325)).toBe('1 h 12 min');
  });

  it('knows the time some seconds from now, and the day if it is another', () => {
    const noon = new Date(2026, 0, 5, 12, 0, 0).getTime();
    expect(clockIn(90 * 60, noon)).toBe('13:30');
    expect(clockIn(12 * 3600, noon)).toBe('Tue 00:00');
    expect(clockIn(20 * 86_400, noon)).toBe('25 Jan 12:00');
  });
});

describe('sizes', () => {
  it('take the unit that leaves few digits', () => {
    expect(bytes(2_400)).toBe('2 kB');
    expect(bytes(2_440_000)).toBe('2.4 MB');
    expect(bytes(12_345_000_000)).toBe('12.35 GB');
    expect(count(1234567)).toBe('1 234 567');
    expect(rateText(23.976_023)).toBe('23.976 fps');
    expect(rateText(24)).toBe('24 fps');
  });

  it('are never written with powers of ten', () => {
    expect(metres(0.0213)).toBe('2.1 cm');
    expect(metres(0.9996)).toBe('100 cm');
    expect(metres(42.25)).toBe('42.3 m');
    expect(metres(999.9)).toBe('1000 m');
    expect(metres(4_200)).toBe('4.2 km');
    expect(metres(123_456)).toBe('123 km');
  });
});

describe('passes', () => {
  it('are named while they are few', () => {
    expect(passesText(['beauty'])).toBe('beauty alone');
    expect(passesText(['beauty', 'depth', 'normal'])).toBe('beauty, depth, normal');
    expect(passesText(['beauty', 'depth', 'normal', 'albedo'])).toBe('beauty and 3 more');
    expect(passesText(['depth', 'normal', 'albedo'])).toBe('3 without beauty');
  });
});

describe('exposure', () => {
  it('is said where there is one', () => {
    const said = (exposure: number | number[][]) =>
      exposureText({ lens: { ...DEFAULTS.settings.lens, exposure } });
    expect(said(0)).toBeUndefined();
    expect(said(-2.5)).toBe('-2.5 stops');
    expect(said(1)).toBe('1 stop');
    expect(said([[0, 1]])).toBe('keyed');
  });
});

describe('frames', () => {
  it('with a step are numbered as people do', () => {
    expect([1, 2, 3, 4, 11, 21, 112].map(everyText)).toEqual([
      'every frame',
      'every 2nd',
      'every 3rd',
      'every 4th',
      'every 11th',
      'every 21st',
      'every 112th',
    ]);
  });

  it('are counted in words', () => {
    expect([0, 1, 2].map(framesText)).toEqual(['0 frames', '1 frame', '2 frames']);
  });
});
