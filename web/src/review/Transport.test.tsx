// @vitest-environment jsdom
import { screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { AS_DELIVERED } from '../api/client';
import { usePlayhead } from '../shell/playhead';
import { closePage, openPage, show } from '../test/page';
import { LookBar } from './LookBar';
import { Transport } from './Transport';
import { useTransport } from './useTransport';

const FRAMES = [1, 9, 17, 25];

function Desk() {
  const transport = useTransport(FRAMES);
  const { state } = transport;
  const frame = usePlayhead();
  const track = {
    frames: FRAMES,
    rate: 24,
    in: state.inPoint ?? FRAMES[0]!,
    out: state.outPoint ?? FRAMES.at(-1)!,
  };
  return (
    <>
      <p data-testid="frame">{frame}</p>
      <input aria-label="Remark" />
      <LookBar
        look={AS_DELIVERED}
        onLook={() => undefined}
        transport={transport}
        guides={{ safe: false, burn: false }}
        onGuides={() => undefined}
        under={undefined}
      />
      <Transport
        transport={transport}
        track={track}
        report={{
          rate: 23.61,
          dropped: 2,
          cached: FRAMES,
          bytes: 0,
          most: 0,
          failed: false,
          apart: null,
        }}
      />
    </>
  );
}

const frame = () => Number(screen.getByTestId('frame').textContent);
const stops = () => screen.getByTestId('stops').textContent;

describe('transport', () => {
  beforeEach(openPage);
  afterEach(closePage);

  it('steps from one rendered frame to the next and rests at the ends', async () => {
    const { user } = show(<Desk />);
    await user.click(screen.getByRole('button', { name: 'One frame on' }));
    expect(frame()).toBe(9);
    await user.click(screen.getByRole('button', { name: 'One frame back' }));
    await user.click(screen.getByRole('button', { name: 'One frame back' }));
    expect(frame()).toBe(1);
  });

  it('plays and pauses with the space bar, and from the start once it is at the end', async () => {
    const { user } = show(<Desk />);
    for (let i = 0; i < 3; i++) {
      await user.click(screen.getByRole('button', { name: 'One frame on' }));
    }
    expect(frame()).toBe(25);
    (document.activeElement as HTMLElement).blur();
    await user.keyboard(' ');
    expect(frame()).toBe(1);
    expect(screen.getByRole('button', { name: 'Pause' })).toBeTruthy();
    await user.keyboard(' ');
    expect(screen.getByRole('button', { name: 'Play' })).toBeTruthy();
    // A step stops it.
    await user.keyboard(' ');
    await user.click(screen.getByRole('button', { name: 'One frame on' }));
    expect(screen.getByRole('button', { name: 'Play' })).toBeTruthy();
  });

  it('keeps the in point before the out point', async () => {
    const { user } = show(<Desk />);
    await user.click(screen.getByRole('button', { name: 'One frame on' }));
    await user.keyboard('o');
    expect(screen.getByText('out 9')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'One frame on' }));
    await user.keyboard('i');
    expect(screen.getByText('in 17')).toBeTruthy();
    expect(screen.getByText('out 25')).toBeTruthy();
    await user.click(screen.getByRole('button', { name: 'Clear in and out' }));
    expect(screen.getByText('in 1')).toBeTruthy();
  });

  it('exposes by half stops within ten', async () => {
    const { user } = show(<Desk />);
    await user.keyboard('+=');
    expect(stops()).toBe('+1.0');
    await user.keyboard('-'.repeat(30));
    expect(stops()).toBe('-10.0');
    await user.click(screen.getByTestId('stops'));
    expect(stops()).toBe('0.0');
  });

  it('leaves keys alone that go into a field or belong to a chord', async () => {
    const { user } = show(<Desk />);
    await user.type(screen.getByLabelText('Remark'), ' -[[f');
    await user.tab();
    (document.activeElement as HTMLElement).blur();
    await user.keyboard('{Control>}-{/Control}');
    expect(stops()).toBe('0.0');
    expect(screen.getByRole('button', { name: 'Play' })).toBeTruthy();
    expect(screen.getByLabelText('Zoom: Fit')).toBeTruthy();
    await user.keyboard('f');
    expect(screen.getByLabelText('Zoom: 1:1')).toBeTruthy();
    await user.keyboard('zzZ');
    expect(screen.getByLabelText('Zoom: 2:1')).toBeTruthy();
  });

  it('says how fast it plays and what it left out', () => {
    show(<Desk />);
    expect(screen.getByTestId('rate').textContent).toMatch(/^23\.6 of 24/);
    expect(screen.getByTestId('dropped').textContent).toBe('2 dropped');
  });
});
