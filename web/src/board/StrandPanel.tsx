import { useState, type ToggleEvent } from 'react';
import type { Marking } from '../api/client';
import {
  useEstimates,
  useFrames,
  useLedger,
  useMark,
  useRemoveLayer,
  useRunStrands,
} from '../api/queries';
import { useChangeView, useStrandParts, type StrandView } from '../api/strands';
import { StrandPicture } from '../picture/StrandPicture';
import { Choice } from '../shell/Choice';
import { estimateFrom, isKnown, takesText } from '../shell/estimate';
import { Field } from '../shell/Field';
import { bytes, deliveryText, duration, framesText, recipeText, version } from '../shell/format';
import { countsOf, countsText } from '../shell/ledger';
import { useNotices } from '../shell/Notices';
import { NamedChoice } from '../shell/NamedChoice';
import { Panel } from '../shell/Panel';
import { usePlayhead } from '../shell/playhead';
import { Row } from '../shell/Row';
import { MakeFilm } from '../shell/MakeFilm';
import { useSay } from '../shell/useSay';
import { useUndo } from '../shell/undo';
import { ClampChoice } from './ClampChoice';
import { Commands, STRAND, strandsText } from './Commands';
import { FileChoice } from './FileChoice';
import { NoiseChoice } from './NoiseChoice';
import { PassChoice } from '../shell/PassChoice';

const SAMPLES = [1, 4, 6, 8, 16, 32, 64, 128, 256, 512, 1024];

const FROM = { strand: 'this strand’s own', layer: 'of the layer', shot: 'of the shot' };

/** Where it is kept whether a delivery's settings are shown. */
const FILES = 'posada-files';

/** The strand that is chosen: its picture, and what is said about it and where. */
export function StrandPanel({ strand, rows }: { strand: StrandView; rows: StrandView[][] }) {
  const { shot, layer, settings } = strand;
  const frame = usePlayhead();
  const change = useChangeView(strand);
  const parts = useStrandParts();
  const count = useFrames(shot.frames).data?.count ?? 0;
  const estimate = useEstimates().data?.find((e) => e.shotId === shot.id && e.layerId === layer.id);
  const say = useSay();
  const rendered = useRunStrands().data?.find(
    (r) => r.shotId === shot.id && r.layerId === layer.id && r.fresh > 0 && r.kind !== 'PROOF',
  );
  const put = (changed: Promise<unknown>, about = STRAND) => say(changed, about);
  const [filesShown, setFilesShown] = useState(() => sessionStorage.getItem(FILES) === 'shown');
  const showFiles = (e: ToggleEvent<HTMLDetailsElement>) => {
    setFilesShown(e.currentTarget.open);
    sessionStorage.setItem(FILES, e.currentTarget.open ? 'shown' : 'hidden');
  };
  const samples = settings.recipe.sampling.most;
  /** What the strand says of its own, so that this is what counts: nothing where it comes from above. */
  const own = (id: number, key: 'recipeId' | 'deliveryId') =>
    id === (layer.document[key] ?? shot[key]) ? null : id;
  const using = (kind: 'recipe' | 'delivery') =>
    rows.flat().filter((v) => v.strand.on && v[kind].id === strand[kind].id).length;
  return (
    <Panel label="Strand" actions={<Commands strand={strand} rows={rows} />}>
      <h2 className="font-[640]">
        {shot.name} <span className="font-normal text-t2">layer {layer.name}</span>
      </h2>
      <div className="mt-2 mb-8 flex h-40 flex-col">
        <StrandPicture strand={strand} frame={frame} />
      </div>
      <Row
        name="Strand"
        hint={count > 0 && framesText(count)}
        note={
          estimate &&
          estimate.frames > 0 &&
          (isKnown(estimate)
            ? `${takesText(estimate.seconds)}, ${duration(estimate.seconds.value / estimate.rendered)} a frame${estimate.rendered < estimate.frames ? ` (${estimate.rendered} to render, the others are the same)` : ''}, ${bytes(estimate.bytes.value)}; from ${estimateFrom(estimate)}`
            : estimate.pending
              ? 'frames are being tried out'
              : 'what it takes is not known: no frame could be tried out')
        }
      >
        <Choice
          label="Strand"
          value={strand.strand.on ? 'on' : 'off'}
          options={[
            { value: 'on', label: 'on' },
            { value: 'off', label: 'off' },
          ]}
          onChange={(v) => void put(change.strand({ on: v === 'on' }))}
        />
      </Row>
      {rendered && (
        <Row name="Film" hint={`newest, ${version(rendered.number)}`}>
          <MakeFilm
            name={`${shot.name}-${layer.name}`}
            title={shot.name}
            footage={`shot-${shot.id}.layer-${layer.id}`}
          />
        </Row>
      )}
      <StandingOf strand={strand} />
      <Row name="Layer" hint={strand.strand.passes ? 'passes of its own' : 'for all shots'}>
        <Field
          owner={`layer ${layer.id}`}
          label="Name of the layer"
          value={layer.name}
          part={(name) => name}
          put={(name) => put(change.layerName(name), 'Name of the layer')}
          className="w-full font-[640]"
        />
      </Row>
      <Row name="Passes">
        <PassChoice
          chosen={settings.passes.wanted}
          onChange={(wanted) => void put(change.passes(wanted))}
        />
      </Row>
      <NamedChoice
        name="Recipe"
        value={strand.recipe.id}
        all={parts?.recipes ?? []}
        text={recipeText}
        hint={FROM[strand.recipeFrom]}
        more={` · for ${strandsText(using('recipe'))}`}
        onChange={(id) => void put(change.strand({ recipeId: own(id, 'recipeId') }))}
      />
      <Row name="Samples" hint="per pixel">
        <Choice
          label="Samples"
          value={samples}
          options={[...new Set([...SAMPLES, samples])]
            .sort((a, b) => a - b)
            .map((n) => ({ value: n, label: String(n) }))}
          onChange={(most) =>
            void put(change.recipe({ sampling: { ...settings.recipe.sampling, most } }))
          }
        />
      </Row>
      <ClampChoice
        recipe={settings.recipe}
        camera={shot.camera}
        put={(part) => void put(change.recipe(part))}
      />
      <NoiseChoice recipe={settings.recipe} put={(part) => void put(change.recipe(part))} />
      <NamedChoice
        name="Delivery"
        value={strand.delivery.id}
        all={parts?.deliveries ?? []}
        text={deliveryText}
        hint={FROM[strand.deliveryFrom]}
        more={` · for ${strandsText(using('delivery'))}`}
        onChange={(id) => void put(change.strand({ deliveryId: own(id, 'deliveryId') }))}
      />
      <details className="border-b border-line" open={filesShown} onToggle={showFiles}>
        <summary className="min-h-7 py-1 text-t2 hover:text-t1">How files are written</summary>
        <FileChoice
          owner={`delivery ${strand.delivery.id}`}
          strand={strand}
          put={(part, about) => put(change.delivery(part), about)}
        />
      </details>
      <RemoveLayer strand={strand} />
    </Panel>
  );
}

/** Why frames of the strand are not fresh, and what can be said about that. */
function StandingOf({ strand: { shot, layer, strand } }: { strand: StrandView }) {
  const ledger = useLedger().data?.find((l) => l.shotId === shot.id && l.layerId === layer.id);
  const mark = useMark();
  const { tell } = useNotices();
  if (!strand.on || !ledger) {
    return null;
  }
  const counts = countsOf([ledger]);
  const say = (frames: string, to: Marking['mark']) =>
    mark.mutate(
      { shotId: shot.id, layerId: layer.id, frames, mark: to, note: null },
      { onError: (e) => tell(e.message, { bad: true }) },
    );
  const command = 'min-h-6 underline decoration-t3 underline-offset-3 hover:text-t1';
  return (
    <>
      <Row name="State" hint={ledger.bytes > 0 && bytes(ledger.bytes)}>
        {countsText(counts)}
      </Row>
      <ul aria-label="Why frames are not fresh">
        {ledger.reasons.map((r) => (
          <li key={`${r.text} ${r.kept}`} className="border-b border-line py-1 pl-20 text-xs">
            <span className="fig text-t2">{r.frames}</span> {r.text}
            <span className="ml-2 text-t3">
              {r.text.startsWith('suspect') ? (
                <button className={command} onClick={() => say(r.frames, null)}>
                  not suspect
                </button>
              ) : r.kept ? (
                <button className={command} onClick={() => say(r.frames, null)}>
                  kept; render again
                </button>
              ) : (
                <button className={command} onClick={() => say(r.frames, 'KEPT')}>
                  keep as they are
                </button>
              )}
            </span>
          </li>
        ))}
      </ul>
    </>
  );
}

function RemoveLayer({ strand: { layer } }: { strand: StrandView }) {
  const remove = useRemoveLayer();
  const undo = useUndo();
  const { tell } = useNotices();
  return (
    <button
      className="mt-3 min-h-6 text-t2 underline decoration-t3 underline-offset-3 hover:text-t1"
      onClick={() =>
        void remove.mutateAsync(layer.id).then(
          () =>
            tell(`Layer ${layer.name} is removed; its files and runs stay.`, {
              action: { label: 'Undo', run: () => undo('undo') },
            }),
          (e: Error) => tell(e.message, { bad: true }),
        )
      }
    >
      Remove layer {layer.name}
    </button>
  );
}
