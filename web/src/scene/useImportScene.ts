import { useRef, useState } from 'react';
import { pickFile, Problem, upload, type Revision } from '../api/client';
import { queryClient, useProduction } from '../api/queries';
import { revision as revisionText } from '../shell/format';
import { useTell } from '../shell/Notices';

export type ImportScene = {
  /** The file on its way and the fraction sent; 1 while the server reads it. */
  busy?: { name: string; fraction: number };
  failure?: string;
  take: (file: File) => void;
  pick: () => void;
  stop: () => void;
  dismiss: () => void;
};

/** Imports a scene file: progress, stop, one sentence if it cannot be loaded. */
export function useImportScene(
  taken: (r: Revision) => void,
  /** Hears of a newer revision that waits to be looked at. */
  arrived: (r: Revision) => void,
): ImportScene {
  const [busy, setBusy] = useState<ImportScene['busy']>();
  const [failure, setFailure] = useState<string>();
  const stopper = useRef<AbortController>(null);
  const tell = useTell();
  const production = useProduction().data;
  const take = (file: File) => {
    const control = new AbortController();
    stopper.current = control;
    const where = location.pathname;
    setFailure(undefined);
    setBusy({ name: file.name, fraction: 0 });
    upload(
      production!.id,
      file,
      (fraction) => setBusy({ name: file.name, fraction }),
      control.signal,
    )
      .then(async ({ revision, unfit, waiting }) => {
        await queryClient.invalidateQueries({ queryKey: ['revisions'] });
        void queryClient.invalidateQueries({ queryKey: ['shots'] });
        // Who has gone on to another station is not brought back, nor while that is on its way.
        if (location.pathname === where) {
          (waiting ? arrived : taken)(revision);
        }
        if (waiting) {
          return;
        }
        tell(`${revision.scene} is imported as ${revisionText(revision.number)}.`);
        unfit.forEach((u) => tell(u, { bad: true }));
      })
      .catch((e: unknown) => {
        if (e instanceof Problem) {
          setFailure(e.message);
        }
      })
      .finally(() => setBusy(undefined));
  };

  const pick = () => pickFile('.glb,.gltf,.zip', take);

  return {
    busy,
    failure,
    take,
    pick,
    stop: () => stopper.current?.abort(),
    dismiss: () => setFailure(undefined),
  };
}
