import { useIsMutating, useMutation } from '@tanstack/react-query';
import type { Shot } from '../api/client';
import { meter as measure, shotNow, stopMeter, useChangeShot } from '../api/queries';
import { useStrandView } from '../api/strands';
import { usePlace } from '../shell/address';
import type { Brightness } from '../picture/LivePicture';
import { useNotices } from '../shell/Notices';
import { percent } from '../shell/format';
import { Row } from '../shell/Row';
import { Field } from '../shell/Field';
import { withLens, type Put } from './settings';

const EXPOSURE = 'Exposure in stops';

/** Finds the exposure that brings a shot's average to middle grey, and sets it; or stops that. */
function MeterButton({ shot, text, className }: { shot: Shot; text: string; className: string }) {
  const change = useChangeShot();
  const layer = useStrandView(shot, usePlace()?.layer)?.layer.id;
  const { tell, mended } = useNotices();
  const mutationKey = ['meter', shot.id];
  const pending = useIsMutating({ mutationKey }) > 0;
  const refused = (e: Error) => tell(`${shot.name}: ${e.message}`, { bad: true, about: EXPOSURE });
  const meter = useMutation({
    mutationKey,
    mutationFn: async () => {
      const { stops } = await measure(shot.id, layer);
      if (stops !== null) {
        // It may have been changed meanwhile.
        await change.mutateAsync({
          id: shot.id,
          part: withLens(shotNow(shot.id) ?? shot, { exposure: stops }),
        });
      }
    },
    onSuccess: () => mended(EXPOSURE),
    onError: refused,
  });
  const stop = useMutation({ mutationFn: () => stopMeter(shot.id), onError: refused });
  return (
    <button
      className={`underline decoration-t3 underline-offset-3 ${className}`}
      title={
        pending
          ? undefined
          : 'Brings the average of the first, middle and last frame to middle grey'
      }
      onClick={() => (pending ? stop : meter).mutate()}
    >
      {pending ? 'Stop metering' : text}
    </button>
  );
}

/** How much of its light the camera takes. */
export function Exposure({ shot, put }: { shot: Shot; put: Put }) {
  const stops = shot.settings.lens.exposure;
  if (typeof stops !== 'number') {
    return (
      <Row name="Exposure" hint="keyed in the settings">
        changes
      </Row>
    );
  }
  return (
    <Row name="Exposure" hint={<MeterButton shot={shot} text="Meter" className="hover:text-t1" />}>
      <span className="flex items-baseline gap-2">
        <Field
          owner={`shot ${shot.id}`}
          label={EXPOSURE}
          value={String(stops)}
          part={(v) =>
            withLens(shot, { exposure: (Number.isFinite(Number(v)) ? Number(v) : v) as number })
          }
          put={put}
          className="fig w-12"
        />
        <span className="text-t2">stops</span>
      </span>
    </Row>
  );
}

/** Shares below this are left unsaid. */
const NOTABLE = 0.005;

/** How much of the picture is clipped, and a way out where nearly all is lost. */
export function BrightnessNote({ shot, of }: { shot: Shot; of: Brightness }) {
  const black = of.lost && of.black > of.white;
  const share = black ? of.black : of.white;
  if (share < NOTABLE) {
    return null;
  }
  return (
    <>
      {percent(share)} {black ? 'black' : 'clipped'}
      {of.lost && (
        <>
          {' · '}
          <MeterButton shot={shot} text="Meter the exposure" className="font-semibold text-t1" />
        </>
      )}
    </>
  );
}
