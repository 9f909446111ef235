import type { Ease } from '../api/client';

/** How a value goes from one key to the next. */
export const EASES: { value: Ease; label: string; hint: string }[] = [
  { value: 'eased', label: 'eased', hint: 'at rest at both ends' },
  { value: 'linear', label: 'linear', hint: 'at an even speed' },
  { value: 'smooth', label: 'smooth', hint: 'through keys without stopping' },
  { value: 'step', label: 'step', hint: 'jumps at the next key' },
];
