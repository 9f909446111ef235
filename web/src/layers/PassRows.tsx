import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState, type ReactNode } from 'react';
import { passPicture, type Pass, type PassName, type PassPicture } from '../api/client';
import { usePassPictures } from '../api/layers';
import { usePasses } from '../api/queries';
import { useChangeView, type StrandView } from '../api/strands';
import { Button } from '../shell/Button';
import { bytes } from '../shell/format';
import { PassSets } from './PassSets';
import { PassDetails } from './PassDetails';
import { usePlayhead } from '../shell/playhead';
import { useSettled } from '../shell/useSettled';

const BEAUTY = 'beauty';
const ADDS = 'adds up to the beauty';
const GROUPS = 'light-groups';

/** Whether the chosen parts of the light add up to the beauty, in words. */
export function partsText(all: Pass[], chosen: PassName[]): string | undefined {
  const parts = all.filter((p) => p.use === ADDS && p.name !== GROUPS);
  const there = parts.filter((p) => chosen.includes(p.name));
  const missing = parts.filter((p) => !chosen.includes(p.name));
  if (there.length === 0) {
    return chosen.includes(GROUPS) ? 'The light groups add up to the beauty.' : undefined;
  }
  return missing.length === 0
    ? 'The parts of the light add up to the beauty.'
    : `The parts of the light do not add up to the beauty: ${missing.map((p) => p.name).join(', ')} ${missing.length === 1 ? 'is' : 'are'} missing.`;
}

/** The passes of the layer with their pictures at the playhead. */
export function PassRows({
  strand,
  put,
}: {
  strand: StrandView;
  put: (changed: Promise<unknown>, about: string) => Promise<string | undefined>;
}) {
  const { shot, layer } = strand;
  const frame = useSettled(usePlayhead());
  const change = useChangeView(strand);
  const { wanted } = strand.settings.passes;
  const all = usePasses().data ?? [];
  const pictures = usePassPictures(shot.id, layer.id, frame, JSON.stringify([shot, layer]))?.all;
  const of = new Map((pictures ?? []).map((p) => [p.name, p]));
  const [open, setOpen] = useState(false);
  const [shown, setShown] = useState<string>();
  const take = (names: PassName[]) =>
    void put(
      change.passes(all.map((p) => p.name).filter((n) => n === BEAUTY || names.includes(n))),
      'passes',
    );
  const more = wanted.reduce((n, p) => n + (p === BEAUTY ? 0 : (of.get(p)?.bytes ?? 0)), 0);
  return (
    <section aria-label="Passes" className="mt-4">
      <div className="mb-2 flex items-baseline justify-between">
        <h2 className="font-[640]">Passes</h2>
        <button
          className="min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1"
          onClick={() => setOpen(true)}
        >
          <span className="fig">
            {wanted.length} of {all.length}
          </span>
          {strand.strand.passes && ', this strand’s own'}
        </button>
      </div>
      <ul className="grid grid-cols-3 gap-2">
        {wanted.map((name) => (
          <li key={name}>
            <Thumb picture={of.get(name)} name={name} />
          </li>
        ))}
      </ul>
      <p className="mt-2 text-xs text-t2">
        {more > 0 && `about ${bytes(more)} a frame on top of the beauty. `}
        {partsText(all, wanted)}
      </p>
      {open && (
        <PassDialog
          all={all}
          pictures={of}
          chosen={wanted}
          onTake={take}
          sets={<PassSets strand={strand} put={put} />}
          large={
            shown && (
              <LargePass
                key={shown}
                name={shown}
                src={passPicture(
                  shot.id,
                  layer.id,
                  frame,
                  shown,
                  `${layer.version}-${shot.version}-${JSON.stringify(strand.strand.passes?.own)}`,
                )}
                onClose={() => setShown(undefined)}
              />
            )
          }
          details={<PassDetails strand={strand} shown={shown} onShow={setShown} put={put} />}
          onClose={() => {
            setOpen(false);
            setShown(undefined);
          }}
        />
      )}
    </section>
  );
}

function Thumb({ picture, name }: { picture: PassPicture | undefined; name: string }) {
  return (
    <>
      <span className="block aspect-video overflow-hidden bg-well">
        {picture && (
          <img
            src={`data:image/jpeg;base64,${picture.data}`}
            alt=""
            className="h-full w-full object-contain"
          />
        )}
      </span>
      <span className="fig block truncate text-[10px] text-t2" title={name}>
        {name}
      </span>
    </>
  );
}

/** The catalogue of passes with their pictures. */
function PassDialog({
  all,
  pictures,
  chosen,
  sets,
  large,
  details,
  onTake,
  onClose,
}: {
  all: Pass[];
  pictures: Map<string, PassPicture>;
  chosen: PassName[];
  /** Sets that are kept by name. */
  sets: ReactNode;
  /** One of them in place of all, larger. */
  large: ReactNode;
  /** How some of them are taken. */
  details: ReactNode;
  onTake: (names: PassName[]) => void;
  onClose: () => void;
}) {
  const uses = [...new Set(all.map((p) => p.use))];
  const press = (p: Pass) =>
    onTake(chosen.includes(p.name) ? chosen.filter((n) => n !== p.name) : [...chosen, p.name]);
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center">
        <DialogPanel className="flex h-[86vh] w-[66rem] max-w-[94vw] flex-col rounded-sm border border-line bg-up p-6">
          <div className="mb-2 flex items-baseline justify-between gap-6">
            <DialogTitle className="font-semibold">Passes of the layer</DialogTitle>
            {sets}
            <p className="flex-1 text-t2">{partsText(all, chosen)}</p>
            <Button onClick={onClose}>Done</Button>
          </div>
          <div className="grid min-h-0 flex-1 grid-cols-[1fr_19rem] gap-6">
            <div className="min-h-0 overflow-auto">
              {large ??
                uses.map((use) => (
                  <section key={use} aria-label={use} className="mb-4">
                    <h3 className="mb-1 text-xs text-t2">{use}</h3>
                    <ul className="grid grid-cols-[repeat(auto-fill,minmax(280px,1fr))] gap-x-4 gap-y-2">
                      {all
                        .filter((p) => p.use === use)
                        .map((p) => (
                          <li key={p.name}>
                            <PassCard
                              pass={p}
                              picture={pictures.get(p.name)}
                              on={chosen.includes(p.name)}
                              onPress={() => press(p)}
                            />
                          </li>
                        ))}
                    </ul>
                  </section>
                ))}
            </div>
            <div className="min-h-0 overflow-auto">{details}</div>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** A pass of one's own as it looks, large, while it is edited. */
function LargePass({ name, src, onClose }: { name: string; src: string; onClose: () => void }) {
  return (
    <figure>
      <figcaption className="mb-2 flex items-baseline justify-between">
        <b>{name}</b>
        <button
          className="min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1"
          onClick={onClose}
        >
          all passes
        </button>
      </figcaption>
      <img src={src} alt={`Pass ${name} at the playhead`} className="w-full bg-well" />
    </figure>
  );
}

function PassCard({
  pass,
  picture,
  on,
  onPress,
}: {
  pass: Pass;
  picture: PassPicture | undefined;
  on: boolean;
  onPress: () => void;
}) {
  return (
    <button
      role="checkbox"
      aria-checked={on}
      aria-label={pass.name}
      disabled={pass.name === BEAUTY}
      className={`grid w-full grid-cols-[112px_1fr] gap-3 rounded-sm border p-1.5 text-left ${on ? 'border-t1' : 'border-line hover:border-t3'}`}
      onClick={onPress}
    >
      <span className="block aspect-video self-start overflow-hidden bg-well">
        {picture && (
          <img
            src={`data:image/jpeg;base64,${picture.data}`}
            alt=""
            className="h-full w-full object-contain"
          />
        )}
      </span>
      <span className="min-w-0 text-xs leading-4">
        <span className="flex items-center justify-between">
          <b className="text-[13px]">{pass.name}</b>
          <i
            className={`h-3 w-3 rounded-[2px] border ${on ? 'border-t1 bg-t1' : 'border-t3'}`}
            aria-hidden="true"
          />
        </span>
        <span className="block text-t2">{pass.holds}</span>
        <span className="block text-t3">{pass.units}</span>
        <span className="block text-t3">
          {pass.cost}
          {picture && ` · about ${bytes(picture.bytes)} a frame`}
        </span>
      </span>
    </button>
  );
}
