import { useMemo, useRef } from 'react';
import { useChangeStrands } from '../api/queries';
import type { StrandView } from '../api/strands';
import { useTell } from '../shell/Notices';

/** Switches strands; while the pointer is held down, all that it comes over. */
export function useSwitch() {
  const { mutateAsync } = useChangeStrands();
  const tell = useTell();
  const painting = useRef<boolean>(undefined);
  return useMemo(() => {
    const put = (some: StrandView[], on: boolean) => {
      const changed = some.filter((v) => v.strand.on !== on).map((v) => ({ ...v.strand, on }));
      if (changed.length) {
        mutateAsync(changed).catch((e: Error) => tell(e.message, { bad: true }));
      }
    };
    return {
      put,
      /** What a cell's tick does with the pointer. */
      paint: (v: StrandView) => ({
        onPointerDown: () => {
          painting.current = !v.strand.on;
          put([v], !v.strand.on);
          window.addEventListener('pointerup', () => (painting.current = undefined), {
            once: true,
          });
        },
        // Without a pointer, as screen readers press it.
        onClick: (e: { detail: number }) => {
          if (e.detail === 0) {
            put([v], !v.strand.on);
          }
        },
        onPointerEnter: (e: { buttons: number }) => {
          if (e.buttons === 1 && painting.current !== undefined) {
            put([v], painting.current);
          }
        },
      }),
    };
  }, [mutateAsync, tell]);
}

export type Switch = ReturnType<typeof useSwitch>;

/** Switches many strands at once. */
export function Several({
  name,
  some,
  toggle,
}: {
  name: string;
  some: StrandView[];
  toggle: Switch;
}) {
  const on = some.length > 0 && some.every((v) => v.strand.on);
  const mixed = !on && some.some((v) => v.strand.on);
  return (
    <Box
      name={`Switch ${name} ${on ? 'off' : 'on'}`}
      state={on ? true : mixed ? 'mixed' : false}
      onClick={() => toggle.put(some, !on)}
    />
  );
}

/** A tick; a dash where some of several are on. */
export function Box({
  name,
  state,
  ...handlers
}: {
  name: string;
  state: boolean | 'mixed';
  onClick?: (e: React.MouseEvent) => void;
  onPointerDown?: () => void;
  onPointerEnter?: (e: React.PointerEvent) => void;
}) {
  return (
    <button
      role="checkbox"
      aria-checked={state}
      aria-label={name}
      title={name}
      tabIndex={-1}
      className="relative inline-grid h-6 w-6 shrink-0 place-items-center align-middle"
      {...handlers}
    >
      <span
        className={`grid h-3.5 w-3.5 place-items-center rounded-[2px] border ${state ? 'border-t1' : 'border-t3'}`}
      >
        {state === 'mixed' ? (
          <i className="h-0.5 w-2 bg-t1" />
        ) : (
          state && <i className="h-2 w-2 bg-t1" />
        )}
      </span>
    </button>
  );
}
