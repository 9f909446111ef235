// @vitest-environment jsdom
import { render } from '@testing-library/react';
import { expect, it } from 'vitest';
import { useInSight } from './useInSight';

function Shots({ current, names }: { current: string; names: string[] }) {
  const list = useInSight<HTMLUListElement>(current);
  return (
    <ul ref={list}>
      {names.map((n) => (
        <li key={n}>
          <button aria-current={n === current}>{n}</button>
        </li>
      ))}
    </ul>
  );
}

it('brings what became current into sight, and nothing else', () => {
  const seen: string[] = [];
  Element.prototype.scrollIntoView = function (this: Element) {
    seen.push(this.textContent ?? '');
  };
  const { rerender } = render(<Shots current="wide" names={['wide', 'close']} />);
  rerender(<Shots current="wide" names={['wide', 'close', 'ride']} />);
  rerender(<Shots current="ride" names={['wide', 'close', 'ride']} />);
  expect(seen).toEqual(['wide', 'ride']);
});
