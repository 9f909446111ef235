import { useState, type ReactNode } from 'react';
import { Button } from '../shell/Button';
import type { ImportScene } from './useImportScene';

/** The whole station takes a dropped scene; without one it says so. */
export function DropZone({
  take,
  empty,
  children,
}: {
  take: ImportScene;
  empty: boolean;
  children: ReactNode;
}) {
  const [over, setOver] = useState(false);
  return (
    <main
      className="relative min-h-0"
      data-testid="drop"
      onDragOver={(e) => {
        e.preventDefault();
        setOver(true);
      }}
      onDragLeave={(e) => !e.currentTarget.contains(e.relatedTarget as Node) && setOver(false)}
      onDrop={(e) => {
        e.preventDefault();
        setOver(false);
        if (e.dataTransfer.files[0]) {
          take.take(e.dataTransfer.files[0]);
        }
      }}
    >
      {children}
      {empty && !take.busy && (
        <div className="grid h-full place-items-center bg-well">
          <div className="max-w-110 text-center">
            <p className="big mb-2">Drop a scene here</p>
            <p className="mb-5 text-t2">
              A .glb file, or a .zip with a .gltf and everything it refers to.
            </p>
            <Button main onClick={take.pick}>
              Choose a file
            </Button>
          </div>
        </div>
      )}
      {over && (
        <div className="pointer-events-none absolute inset-2 grid place-items-center border-2 border-dashed border-t1 bg-black/60">
          <p className="big text-white">Drop to import</p>
        </div>
      )}
      {take.busy && <Busy busy={take.busy} onStop={take.stop} />}
      {take.failure && (
        <div
          role="alert"
          className="absolute inset-x-0 bottom-0 flex items-baseline gap-4 border-t-2 border-bad bg-up px-5 py-3"
        >
          <span className="flex-1">
            <b className="mr-2 text-bad">Not imported.</b>
            {take.failure}
          </span>
          <Button onClick={take.pick}>Choose another file</Button>
          <Button onClick={take.dismiss}>Close</Button>
        </div>
      )}
    </main>
  );
}

function Busy({ busy, onStop }: { busy: NonNullable<ImportScene['busy']>; onStop: () => void }) {
  const reading = busy.fraction >= 1;
  return (
    <div
      role="status"
      className="absolute inset-x-0 bottom-0 flex items-center gap-4 border-t border-line bg-up px-5 py-3"
    >
      <span className="shrink-0">
        {reading ? `Reading ${busy.name} …` : `Sending ${busy.name}`}
      </span>
      <progress
        className="h-1 flex-1 accent-[var(--mark)]"
        value={reading ? undefined : busy.fraction}
      />
      <Button onClick={onStop}>Stop</Button>
    </div>
  );
}
