import type { Look, PixelValues } from '../api/client';
import { Choice } from '../shell/Choice';
import { Toggle } from './Transport';
import { MOST_STOPS, ZOOMS, type TransportHandle } from './useTransport';
import type { Under } from './useValues';

const SHOWN: Record<Look['shown'], string> = {
  COLOUR: 'Colour',
  CHECKERS: 'Over checks',
  RED: 'Red',
  GREEN: 'Green',
  BLUE: 'Blue',
  ALPHA: 'Alpha',
  LUMINANCE: 'Luminance',
};

const VIEWS: Record<Look['view'], string> = {
  STANDARD: 'Standard',
  SOFT: 'Soft highlights',
  LINEAR: 'Linear numbers',
  BANDS: 'Light by stops',
};

const GAMMAS = [0.6, 0.8, 1, 1.2, 1.6, 2.2];

export type Guides = { safe: boolean; burn: boolean };

/** How the picture is looked at: nothing of it is written. */
export function LookBar({
  look,
  onLook,
  transport,
  guides,
  onGuides,
  under,
}: {
  look: Look;
  onLook: (part: Partial<Look>) => void;
  transport: TransportHandle;
  guides: Guides;
  onGuides: (g: Guides) => void;
  under: Under | undefined;
}) {
  const { state, set, expose } = transport;
  const press = 'min-h-6 min-w-6 px-1 hover:text-t1';
  return (
    <div className="flex h-9 shrink-0 items-center gap-4 border-t border-line text-t2">
      <Choice
        label="Channels"
        value={look.shown}
        options={entries(SHOWN)}
        onChange={(shown) => onLook({ shown })}
      />
      <Choice
        label="View"
        value={look.view}
        options={entries(VIEWS)}
        onChange={(view) => onLook({ view })}
      />
      <span className="flex items-center">
        Exposure
        <button
          className={press}
          aria-label="Half a stop darker"
          disabled={state.stops <= -MOST_STOPS}
          onClick={() => expose(-0.5)}
        >
          −
        </button>
        <button
          className="fig min-h-6 w-9 text-center text-t1"
          title="Back to 0"
          onClick={() => set({ stops: 0 })}
          data-testid="stops"
        >
          {state.stops > 0 ? '+' : ''}
          {state.stops.toFixed(1)}
        </button>
        <button
          className={press}
          aria-label="Half a stop brighter"
          disabled={state.stops >= MOST_STOPS}
          onClick={() => expose(0.5)}
        >
          +
        </button>
      </span>
      <span className="flex items-center gap-1.5">
        Gamma
        <Choice
          label="Gamma"
          value={look.gamma}
          options={GAMMAS.map((g) => ({ value: g, label: String(g) }))}
          onChange={(gamma) => onLook({ gamma })}
        />
      </span>
      <Choice
        label="Zoom"
        value={state.zoom}
        options={ZOOMS.map((z) => ({ value: z, label: z === 0 ? 'Fit' : `${z}:1` }))}
        onChange={(zoom) => set({ zoom })}
      />
      <Toggle
        label="Safe areas"
        on={guides.safe}
        onClick={() => onGuides({ ...guides, safe: !guides.safe })}
      />
      <Toggle
        label="Burn-ins"
        on={guides.burn}
        onClick={() => onGuides({ ...guides, burn: !guides.burn })}
      />
      <span className="flex-1" />
      <span className="fig truncate text-xs" data-testid="under">
        {under && underText(under, look.pass)}
      </span>
    </div>
  );
}

const entries = <K extends string>(names: Record<K, string>) =>
  (Object.keys(names) as K[]).map((value) => ({ value, label: names[value] }));

const UNITS: Record<string, string> = {
  depth: 'm',
  'depth-filtered': 'm',
  position: 'm',
  'motion-next': 'px',
  'motion-previous': 'px',
  time: 'µs',
};

/** What a pass holds, in a few words. */
export const valueText = (v: PixelValues) => {
  const unit = UNITS[v.pass];
  const held = v.names.length > 0 ? v.names.join(', ') : v.values.join(' ') || 'nothing';
  return unit && !v.values.includes('nothing') ? `${held} ${unit}` : held;
};

const underText = (u: Under, pass: string) => {
  const own = u.values.find((v) => v.pass === pass) ?? u.values[0];
  return `x ${u.x} y ${u.y} px${own ? ` · ${valueText(own)}` : ''}`;
};
