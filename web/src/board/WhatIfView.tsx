import { useState } from 'react';
import type { Fitting, WhatIf, WhatIfLine } from '../api/client';
import { useFit, useProduction, useTakeFit, useTakeWhatIf, useWhatIf } from '../api/queries';
import type { StrandView } from '../api/strands';
import { Button } from '../shell/Button';
import { roughly } from '../shell/estimate';
import { bytes } from '../shell/format';
import { useNotices } from '../shell/Notices';
import { useUndo } from '../shell/undo';
import { strandsText } from './Commands';

const CHANGES: Record<WhatIf, [string, string]> = {
  HALF_SIZE: ['Half size', 'half as many pixels across and down'],
  EVERY_SECOND_FRAME: ['Every second frame', 'the others are left out'],
  FEWER_SAMPLES: ['A quarter of the samples', 'with denoising'],
  BAKED_LIGHT: ['Baked light', 'light from surface to surface is found once'],
  CLAY: ['Clay', 'all layers in one plain material'],
  FEWER_PASSES: ['Without dear passes', 'light parts, light groups, occlusion, motion, guides'],
};

const noiseText = (noise: number | null) =>
  noise === null ? '–' : `${(100 * noise).toFixed(1)} %`;

/** Seconds and their band on two lines. */
function Takes({ seconds: { value, low, high } }: Pick<WhatIfLine, 'seconds'>) {
  return (
    <>
      {roughly(value)}
      <span className="block text-xs text-t3">± {roughly((high - low) / 2)}</span>
    </>
  );
}

/** What the batch would take if it were done otherwise, and how to fit it into a time. */
export function WhatIfView({ rows }: { rows: StrandView[][] }) {
  const lines = useWhatIf();
  const today = lines?.[0];
  return (
    <section aria-label="What if" className="min-h-0 overflow-auto bg-well px-5 pb-6">
      <table className="w-full border-separate border-spacing-0" aria-label="What if">
        <thead className="sticky top-0 bg-well text-left text-xs text-t2">
          <tr>
            {['Change', 'To render', 'Files', 'Noise of the noisiest strand'].map((h) => (
              <th key={h} className="border-b border-line py-2 pr-4 font-normal">
                {h}
              </th>
            ))}
            <td className="border-b border-line" />
          </tr>
        </thead>
        <tbody>
          {lines?.map((l) => (
            <Line key={l.change} line={l} today={today!} />
          ))}
        </tbody>
      </table>
      <p className="py-2 text-xs text-t3">
        From small trial frames with each change. Noise is that of the samples, before denoising.
        All frames that a change makes stale are counted.
      </p>
      <Fit rows={rows} />
    </section>
  );
}

function Line({ line: l, today }: { line: WhatIfLine; today: WhatIfLine }) {
  const take = useTakeWhatIf();
  const { tell } = useNotices();
  const undo = useUndo();
  const [name, what] = l.change ? CHANGES[l.change] : ['As it is', 'what is stale or missing'];
  const cell = 'border-b border-line py-1.5 pr-4 align-top';
  const nothing = l.change !== null && l.strands === 0;
  const known = l.pending === 0 && !l.refusal && !nothing;
  const rest = l.refusal
    ? `cannot be done: ${l.refusal}`
    : nothing
      ? 'changes nothing'
      : l.pending > 0
        ? `being tried out: ${strandsText(l.pending)} left`
        : undefined;
  return (
    <tr>
      <th scope="row" className={`${cell} text-left font-normal`}>
        <span className="block font-[640]">{name}</span>
        <span className="text-t2">{what}</span>
      </th>
      {known ? (
        <>
          <td className={`${cell} fig`}>
            <Takes seconds={l.seconds} />
          </td>
          <td className={`${cell} fig`}>{bytes(l.bytes.value)}</td>
          <td className={`${cell} fig`}>
            {noiseText(l.noise)}
            {l.change !== null && l.noise !== null && today.noise !== null && (
              <span className="block text-xs text-t3">
                {Math.abs(l.noise / today.noise - 1) < 0.02
                  ? 'as it is'
                  : `× ${(l.noise / today.noise).toFixed(1)}`}
              </span>
            )}
          </td>
        </>
      ) : (
        <td className={`${cell} text-t2`} colSpan={3}>
          {rest}
        </td>
      )}
      <td className={`${cell} text-right`}>
        {known && l.change && (
          <Button
            aria-label={`Take over: ${name}`}
            disabled={take.isPending}
            onClick={() =>
              take.mutate(l.change!, {
                onSuccess: () =>
                  tell(`${name}: taken over for ${strandsText(l.strands)}.`, {
                    action: { label: 'Undo', run: () => undo('undo') },
                  }),
                onError: (e) => tell(e.message, { bad: true }),
              })
            }
          >
            Take over
          </Button>
        )}
      </td>
    </tr>
  );
}

const HOUR = 3600;

/** Shares a time out among the strands, so that the noisiest is as clean as it can be. */
function Fit({ rows }: { rows: StrandView[][] }) {
  const deadline = useProduction().data?.deadline;
  const today = useWhatIf()?.[0]?.seconds.value;
  const [typed, setTyped] = useState<string>();
  const [opened] = useState(() => Date.now());
  const left = deadline
    ? Math.floor((new Date(deadline).getTime() - opened) / 60_000) * 60
    : undefined;
  const hours = typed ?? String(Number(((left ?? today ?? 0) / HOUR).toFixed(2)));
  const seconds = Number(hours) * HOUR;
  const fit = useFit(seconds > 0 ? seconds : undefined);
  const take = useTakeFit();
  const { tell } = useNotices();
  const undo = useUndo();
  return (
    <section aria-label="Fit into a time" className="mt-4">
      <div className="flex items-baseline gap-3 border-b border-line pb-2">
        <h2 className="font-[640]">Fit into a time</h2>
        <label className="text-t2">
          <input
            aria-label="Hours that there are"
            className="fig w-16 rounded-sm border border-line bg-transparent px-1 text-right"
            value={hours}
            onChange={(e) => setTyped(e.target.value)}
          />{' '}
          h
        </label>
        <span className="text-xs text-t3">
          {typed === undefined &&
            (left === undefined ? 'what it takes as it is' : 'until the deadline')}
        </span>
        {fit && fit.strands.length > 0 && (
          <Button
            className="ml-auto"
            disabled={take.isPending}
            onClick={() =>
              take.mutate(seconds, {
                onSuccess: () =>
                  tell(`Samples are fitted into ${roughly(seconds)}.`, {
                    action: { label: 'Undo', run: () => undo('undo') },
                  }),
                onError: (e) => tell(e.message, { bad: true }),
              })
            }
          >
            Take these samples
          </Button>
        )}
      </div>
      {!(seconds > 0) && (
        <p className="py-3 text-t2">Type how many hours there are, such as 7.5.</p>
      )}
      {fit && <FitTable fit={fit} rows={rows} />}
    </section>
  );
}

function FitTable({ fit, rows }: { fit: Fitting; rows: StrandView[][] }) {
  if (fit.refusal || fit.pending > 0 || fit.strands.length === 0) {
    return (
      <p className="py-3 text-t2">
        {fit.refusal ??
          (fit.pending > 0
            ? `being tried out: ${strandsText(fit.pending)} left`
            : 'Nothing is to be rendered.')}
      </p>
    );
  }
  const sum = (of: 'secondsNow' | 'secondsThen') => fit.strands.reduce((n, s) => n + s[of], 0);
  const most = (of: 'noiseNow' | 'noiseThen') => Math.max(...fit.strands.map((s) => s[of]));
  const cell = 'border-b border-line py-1.5 pr-4';
  const figures = (a: string | number, b: string | number) => (
    <td className={`${cell} fig text-right`}>
      <span className="text-t2">{a}</span> → {b}
    </td>
  );
  return (
    <table className="w-full border-separate border-spacing-0" aria-label="Samples">
      <thead className="text-xs text-t2">
        <tr>
          <th className={`${cell} text-left font-normal`}>Strand</th>
          {['Samples per pixel', 'Noise', 'Takes'].map((h) => (
            <th key={h} className={`${cell} text-right font-normal`}>
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {fit.strands.map((s) => {
          const v = rows.flat().find((x) => x.shot.id === s.shotId && x.layer.id === s.layerId);
          return (
            <tr key={`${s.shotId}-${s.layerId}`}>
              <th scope="row" className={`${cell} text-left font-normal`}>
                {v?.shot.name} <span className="text-t2">{v?.layer.name}</span>
              </th>
              {figures(s.samplesNow, s.samplesThen)}
              {figures(noiseText(s.noiseNow), noiseText(s.noiseThen))}
              {figures(roughly(s.secondsNow), roughly(s.secondsThen))}
            </tr>
          );
        })}
      </tbody>
      <tfoot>
        <tr className="font-semibold">
          <th scope="row" className="py-2 text-left font-semibold">
            All, and the noisiest
          </th>
          <td />
          <td className="fig py-2 pr-4 text-right">
            {noiseText(most('noiseNow'))} → {noiseText(most('noiseThen'))}
          </td>
          <td className="fig py-2 pr-4 text-right">
            {roughly(sum('secondsNow'))} → {roughly(sum('secondsThen'))}
          </td>
        </tr>
      </tfoot>
    </table>
  );
}
