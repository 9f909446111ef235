import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { previewFilm, type PreviewJob, type PreviewRecipe, type Shot } from '../api/client';
import {
  previewQuery,
  useDefaults,
  useMakePreview,
  useFrames,
  useProduction,
  useStopPreview,
} from '../api/queries';
import { useOpenSequence } from '../api/review';
import { useStrandView } from '../api/strands';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { duration, everyText, framesText } from '../shell/format';
import { useNotices } from '../shell/Notices';
import { Row } from '../shell/Row';

type Style = PreviewRecipe['look']['style'];
type Wanted = { style: Style; scale: number; every: number; burnIns: boolean; mark: boolean };

const KEY = 'posada-preview';
const FIRST: Wanted = { style: 'shaded', scale: 50, every: 1, burnIns: true, mark: false };
const BURN_INS: PreviewRecipe['burnIns'] = [
  'frame',
  'timecode',
  'shot',
  'camera',
  'layer',
  'lens',
  'date',
];

function stored(): Wanted {
  try {
    return { ...FIRST, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Wanted>) };
  } catch {
    return FIRST;
  }
}

/** Opens the shot's preview: a quick film of the whole range. */
export function PreviewButton({ shot }: { shot: Shot }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button onClick={() => setOpen(true)}>Preview</Button>
      {open && <PreviewDialog shot={shot} onClose={() => setOpen(false)} />}
    </>
  );
}

function PreviewDialog({ shot, onClose }: { shot: Shot; onClose: () => void }) {
  const [wanted, setWanted] = useState(stored);
  const production = useProduction().data;
  const frames = useFrames(shot.frames).data;
  const job = useQuery(previewQuery(shot.id)).data ?? null;
  const make = useMakePreview(shot.id, useStrandView(shot, usePlace()?.layer)?.layer.id);
  const usual = useDefaults()?.preview;
  const stop = useStopPreview(shot.id);
  const put = (part: Partial<Wanted>) => {
    const now = { ...wanted, ...part };
    setWanted(now);
    localStorage.setItem(KEY, JSON.stringify(now));
  };
  const review = useOpenSequence();
  const go = useGo();
  const { tell } = useNotices();
  const look = () =>
    review.mutate(
      { shot: shot.id, preview: job!.id },
      {
        onSuccess: ([first]) => go({ station: 'review', footage: `sequence-${first!.id}` }),
        onError: (e) => tell(e.message, { bad: true }),
      },
    );
  const drawing = make.isPending || job?.state === 'DRAWING';
  const begin = () =>
    usual &&
    make.mutate({
      ...usual,
      look: { ...usual.look, style: wanted.style },
      scale: wanted.scale,
      every: wanted.every,
      burnIns: wanted.burnIns ? BURN_INS : [],
      watermark: wanted.mark ? (production?.name ?? '') : '',
    });
  const side = (n: number) => 2 * Math.round((n * wanted.scale) / 200);
  // A range with a step is drawn whole, to the end that is written.
  const range = /^\s*(\d+)\s*[-–]\s*(\d+)[^,]*$/.exec(shot.frames);
  const all = range ? Number(range[2]) - Number(range[1]) + 1 : frames?.count;
  const count = all === undefined ? undefined : Math.ceil(all / wanted.every);
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center p-6">
        <DialogPanel className="grid max-h-full w-260 max-w-full grid-cols-[minmax(0,1fr)_248px] rounded-sm border border-line bg-up">
          <Screen shot={shot} job={job} problem={make.error?.message} />
          <div className="flex min-h-0 flex-col p-5">
            <DialogTitle className="mb-2 font-semibold">Preview of {shot.name}</DialogTitle>
            <Row name="Style">
              <Choice
                label="Style"
                value={wanted.style}
                options={[
                  { value: 'shaded', label: 'shaded' },
                  { value: 'clay', label: 'clay' },
                  { value: 'outlined', label: 'outlined' },
                  { value: 'depth', label: 'depth' },
                ]}
                onChange={(style) => put({ style })}
              />
            </Row>
            <Row name="Size" hint={`${side(shot.width)} × ${side(shot.height)}`}>
              <Choice
                label="Size"
                value={wanted.scale}
                options={[25, 50, 100].map((s) => ({ value: s, label: `${s} %` }))}
                onChange={(scale) => put({ scale })}
              />
            </Row>
            <Row name="Frames" hint={count === undefined ? undefined : `${count} drawn`}>
              <Choice
                label="Frames"
                value={wanted.every}
                options={[1, 2, 4, 8].map((n) => ({
                  value: n,
                  label: n === 1 ? 'all' : everyText(n),
                }))}
                onChange={(every) => put({ every })}
              />
            </Row>
            <Row name="Burn-ins">
              <Choice
                label="Burn-ins"
                value={wanted.burnIns ? 1 : 0}
                options={[
                  { value: 1, label: 'written over it' },
                  { value: 0, label: 'none' },
                ]}
                onChange={(v) => put({ burnIns: v === 1 })}
              />
            </Row>
            <Row name="Watermark">
              <Choice
                label="Watermark"
                value={wanted.mark ? 1 : 0}
                options={[
                  { value: 1, label: production?.name ?? 'production' },
                  { value: 0, label: 'none' },
                ]}
                onChange={(v) => put({ mark: v === 1 })}
              />
            </Row>
            <div className="flex-1" />
            <div className="mt-5 flex justify-between gap-3">
              <Button onClick={onClose}>Close</Button>
              {job?.state === 'READY' && (
                <Button disabled={review.isPending} onClick={look}>
                  Review
                </Button>
              )}
              {drawing ? (
                <Button onClick={() => stop.mutate()}>Stop</Button>
              ) : (
                <Button main onClick={begin}>
                  {job?.state === 'READY' ? 'Make again' : 'Make preview'}
                </Button>
              )}
            </div>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** The film, or how far it is. */
function Screen({ shot, job, problem }: { shot: Shot; job: PreviewJob | null; problem?: string }) {
  const failed = problem ?? job?.problem;
  return (
    <section className="flex min-w-0 flex-col bg-well p-4" aria-label="Film">
      <div
        className="grid w-full place-items-center overflow-hidden"
        style={{ aspectRatio: shot.width / shot.height }}
      >
        {failed ? (
          <p className="max-w-100 text-center">
            <span className="mr-2 font-semibold text-bad">Failed</span>
            {failed}
          </p>
        ) : job?.state === 'READY' ? (
          <video
            key={job.id}
            src={previewFilm(job)}
            className="h-full w-full"
            controls
            autoPlay
            loop
            muted
            data-testid="preview-film"
          />
        ) : job?.state === 'DRAWING' ? (
          <div className="w-80" role="status">
            <p className="fig mb-2 flex justify-between">
              <span>
                {job.done} of {job.total} frames
              </span>
              {job.done > 0 && (
                <span className="text-t2">{(job.done / job.seconds).toFixed(1)} a second</span>
              )}
            </p>
            <div className="h-1.5 bg-up2">
              <div
                className="h-full bg-mark"
                style={{ width: `${(100 * job.done) / job.total}%` }}
              />
            </div>
          </div>
        ) : (
          <p className="max-w-90 text-center text-t2">
            {job?.state === 'STOPPED'
              ? 'Stopped; nothing is kept.'
              : 'A quick film of the whole range, to judge timing and camera before anything is rendered.'}
          </p>
        )}
      </div>
      <p className="fig min-h-6 pt-2 text-t2">
        {job?.state === 'READY' &&
          `${framesText(job.total)}, ${job.width} × ${job.height}, drawn in ${duration(job.seconds)}`}
      </p>
    </section>
  );
}
