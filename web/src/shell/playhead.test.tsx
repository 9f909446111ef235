// @vitest-environment jsdom
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { Link, MemoryRouter, useLocation } from 'react-router';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { playhead, usePlayheadInAddress } from './playhead';

function Page() {
  usePlayheadInAddress();
  const { pathname, search } = useLocation();
  return (
    <>
      <output>{pathname + search}</output>
      <Link to="/reel/shots/a?frame=9">other</Link>
      <Link to="/reel/shots/a?frame=1">same</Link>
    </>
  );
}

const place = () => screen.getByRole('status').textContent;
const settle = () => act(() => vi.advanceTimersByTime(1000));

describe('the frame in the address', () => {
  beforeEach(() => {
    playhead.to(1);
    vi.useFakeTimers();
    render(
      <MemoryRouter initialEntries={['/reel/scene?frame=1']}>
        <Page />
      </MemoryRouter>,
    );
  });
  afterEach(() => {
    cleanup();
    vi.useRealTimers();
  });

  it('is written once it has settled, and followed when it is another', () => {
    act(() => playhead.to(5));
    expect(place()).toBe('/reel/scene?frame=1');
    settle();
    expect(place()).toBe('/reel/scene?frame=5');
    fireEvent.click(screen.getByText('other'));
    expect(playhead.now()).toBe(9);
  });

  it('is not lost when one goes elsewhere before it has settled', () => {
    act(() => playhead.to(2));
    fireEvent.click(screen.getByText('same'));
    settle();
    expect(place()).toBe('/reel/shots/a?frame=2');
  });

  it('does not go back to what was written while it moved on', () => {
    act(() => playhead.to(5));
    act(() => {
      vi.advanceTimersByTime(1000);
      playhead.to(6);
    });
    expect(playhead.now()).toBe(6);
    settle();
    expect(place()).toBe('/reel/scene?frame=6');
  });
});
