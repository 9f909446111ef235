import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import {
  cutFile,
  previewFilm,
  type CutJob,
  type CutWish,
  type PreviewJob,
  type PreviewRecipe,
  type Shot,
} from '../api/client';
import { cutQuery, useDrawCut, useStopCut } from '../api/cut';
import {
  previewQuery,
  useDefaults,
  useMakePreview,
  useFrames,
  useProduction,
  useShots,
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
type Wanted = {
  of: 'shot' | 'cut';
  form: CutWish['form'];
  style: Style;
  scale: number;
  every: number;
  /** Frames of each shot on a contact sheet: 3, or 0 for every Nth. */
  picks: number;
  burnIns: boolean;
  mark: boolean;
};

const KEY = 'posada-preview';
const FIRST: Wanted = {
  of: 'shot',
  form: 'FILM',
  style: 'shaded',
  scale: 50,
  every: 1,
  picks: 3,
  burnIns: true,
  mark: false,
};

const FORMS: { value: CutWish['form']; label: string; cut?: string }[] = [
  { value: 'FILM', label: 'a film', cut: 'one film' },
  { value: 'FILMS', label: '', cut: 'a film each' },
  { value: 'FRAMES', label: 'a PNG sequence', cut: 'PNG sequences' },
  { value: 'SHEET', label: 'a contact sheet, PNG' },
  { value: 'PAGES', label: 'a contact sheet, PDF' },
];

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
  const [range, setRange] = useState('');
  const production = useProduction().data;
  const shots = useShots().data ?? [];
  const frames = useFrames(shot.frames).data;
  const own = useQuery(previewQuery(shot.id)).data ?? null;
  const cut = useQuery(cutQuery(production?.id)).data ?? null;
  const make = useMakePreview(shot.id, useStrandView(shot, usePlace()?.layer)?.layer.id);
  const draw = useDrawCut(production?.id);
  const usual = useDefaults()?.preview;
  const stop = useStopPreview(shot.id);
  const stopCut = useStopCut(production?.id);
  const put = (part: Partial<Wanted>) => {
    const now = { ...wanted, ...part };
    const kept =
      now.of === 'shot' && now.form === 'FILMS' ? { ...now, form: 'FILM' as const } : now;
    setWanted(kept);
    localStorage.setItem(KEY, JSON.stringify(kept));
  };
  const review = useOpenSequence();
  const go = useGo();
  const { tell } = useNotices();
  const alone = wanted.of === 'shot' && wanted.form === 'FILM';
  const sheet = wanted.form === 'SHEET' || wanted.form === 'PAGES';
  const job = alone ? own : cut;
  const look = () =>
    review.mutate(
      { shot: shot.id, preview: own!.id },
      {
        onSuccess: ([first]) => go({ station: 'review', footage: `sequence-${first!.id}` }),
        onError: (e) => tell(e.message, { bad: true }),
      },
    );
  const drawing = make.isPending || draw.isPending || job?.state === 'DRAWING';
  const begin = () => {
    if (!usual) {
      return;
    }
    const recipe: PreviewRecipe = {
      ...usual,
      look: { ...usual.look, style: wanted.style },
      scale: wanted.scale,
      every: wanted.every,
      burnIns: wanted.burnIns ? BURN_INS : [],
      watermark: wanted.mark ? (production?.name ?? '') : '',
    };
    const only = range.trim() || undefined;
    if (alone) {
      make.mutate({ body: recipe, frames: only });
    } else {
      draw.mutate({
        shots: wanted.of === 'shot' ? [shot.id] : [],
        form: wanted.form,
        frames: only ?? null,
        picks: sheet ? wanted.picks : 0,
        recipe,
      });
    }
  };
  const size = wanted.of === 'shot' ? shot : (production ?? shot);
  const side = (n: number) => 2 * Math.round((n * wanted.scale) / 200);
  // A range with a step is drawn whole, to the end that is written.
  const written = /^\s*(\d+)\s*[-–]\s*(\d+)[^,]*$/.exec(shot.frames);
  const all = written ? Number(written[2]) - Number(written[1]) + 1 : frames?.count;
  const count =
    all === undefined || !alone || range.trim() ? undefined : Math.ceil(all / wanted.every);
  const every = [1, 2, 4, 8, 12, 24].map((n) => ({
    value: n,
    label: n === 1 ? 'all' : everyText(n),
  }));
  return (
    <Dialog open onClose={onClose} className="relative z-40 outline-none">
      <DialogBackdrop className="fixed inset-0 bg-black/60" />
      <div className="fixed inset-0 grid place-items-center p-6">
        <DialogPanel className="grid max-h-full w-270 max-w-full grid-cols-[minmax(0,1fr)_268px] rounded-sm border border-line bg-up">
          <Screen
            aspect={size.width / size.height}
            job={job}
            film={alone ? (own ? previewFilm(own) : undefined) : cut ? cutFile(cut) : undefined}
            form={alone ? 'FILM' : (cut?.form ?? 'FILM')}
            save={!alone && cut ? cutFile(cut, true) : undefined}
            problem={(alone ? make.error : draw.error)?.message}
          />
          <div className="flex min-h-0 flex-col p-5">
            <DialogTitle className="mb-2 font-semibold">Preview</DialogTitle>
            <Row name="Of" hint={wanted.of === 'cut' ? `${shots.length}, in order` : undefined}>
              <Choice
                label="Of"
                value={wanted.of}
                options={[
                  { value: 'shot', label: shot.name },
                  { value: 'cut', label: 'all shots' },
                ]}
                onChange={(of) => put({ of })}
              />
            </Row>
            <Row name="As">
              <Choice
                label="As"
                value={wanted.form}
                options={FORMS.map((f) => ({
                  value: f.value,
                  label: (wanted.of === 'cut' && f.cut) || f.label,
                })).filter((f) => f.label !== '')}
                onChange={(form) => put({ form })}
              />
            </Row>
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
            {!sheet && (
              <Row name="Size" hint={`${side(size.width)} × ${side(size.height)}`}>
                <Choice
                  label="Size"
                  value={wanted.scale}
                  options={[25, 50, 100].map((s) => ({ value: s, label: `${s} %` }))}
                  onChange={(scale) => put({ scale })}
                />
              </Row>
            )}
            <Row name="Range">
              <input
                aria-label="Range"
                className="fig w-full bg-transparent placeholder:text-t3"
                placeholder="all frames"
                value={range}
                onChange={(e) => setRange(e.target.value)}
              />
            </Row>
            <Row name="Frames" hint={count === undefined ? undefined : `${count} drawn`}>
              {sheet ? (
                <Choice
                  label="Frames"
                  value={wanted.picks === 3 ? 0 : wanted.every}
                  options={[{ value: 0, label: 'first, middle, last' }, ...every]}
                  onChange={(n) => put(n === 0 ? { picks: 3 } : { picks: 0, every: n })}
                />
              ) : (
                <Choice
                  label="Frames"
                  value={wanted.every}
                  options={every}
                  onChange={(n) => put({ every: n })}
                />
              )}
            </Row>
            {!sheet && (
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
            )}
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
              {alone && job?.state === 'READY' && (
                <Button disabled={review.isPending} onClick={look}>
                  Review
                </Button>
              )}
              {drawing ? (
                <Button onClick={() => (alone ? stop.mutate() : stopCut.mutate())}>Stop</Button>
              ) : (
                <Button main onClick={begin}>
                  {alone && job?.state === 'READY' ? 'Make again' : 'Make preview'}
                </Button>
              )}
            </div>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** What was drawn, or how far it is. */
function Screen({
  aspect,
  job,
  film,
  form,
  save,
  problem,
}: {
  aspect: number;
  job: PreviewJob | CutJob | null;
  /** Address of what was drawn. */
  film: string | undefined;
  form: CutWish['form'];
  /** Address under which it is kept. */
  save: string | undefined;
  problem?: string;
}) {
  const failed = problem ?? job?.problem;
  const zip = form === 'FILMS' || form === 'FRAMES';
  // Longer than its place, so that it is scrolled, by keys as well.
  const sheet = job?.state === 'READY' && form === 'SHEET' && !failed;
  return (
    <section className="flex min-w-0 flex-col bg-well p-4" aria-label="Film">
      <div
        className={`w-full ${sheet ? 'overflow-auto' : 'grid place-items-center overflow-hidden'}`}
        style={{ aspectRatio: aspect }}
        tabIndex={sheet ? 0 : undefined}
      >
        {failed ? (
          <p className="max-w-100 text-center">
            <span className="mr-2 font-semibold text-bad">Failed</span>
            {failed}
          </p>
        ) : job?.state === 'READY' && form === 'FILM' ? (
          <video
            key={job.id}
            src={film}
            className="h-full w-full"
            controls
            autoPlay
            loop
            muted
            data-testid="preview-film"
          />
        ) : job?.state === 'READY' && form === 'SHEET' ? (
          <img src={film} alt="Contact sheet" className="w-full" />
        ) : job?.state === 'READY' ? (
          <p>
            <a className="underline underline-offset-3" href={save} download>
              {zip ? 'Save the zip' : 'Save the PDF'}
            </a>
          </p>
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
              : 'Drawn quickly, to judge timing and cameras before anything is rendered.'}
          </p>
        )}
      </div>
      <p className="fig flex min-h-6 justify-between pt-2 text-t2">
        <span>
          {job?.state === 'READY' &&
            `${framesText(job.total)}${form === 'PAGES' ? '' : `, ${job.width} × ${job.height}${form === 'SHEET' ? ' each' : ''}`}, drawn in ${duration(job.seconds)}`}
        </span>
        {job?.state === 'READY' && save && (form === 'FILM' || form === 'SHEET') && (
          <a className="underline underline-offset-3" href={save} download>
            Save {form === 'FILM' ? 'the film' : 'the sheet'}
          </a>
        )}
      </p>
    </section>
  );
}
