import type { LayerDocument } from '../api/client';
import { useRoles } from '../api/layers';
import { useEstimates, useStrands } from '../api/queries';
import { useChangeView, useStrandParts, type StrandView } from '../api/strands';
import { Choice } from '../shell/Choice';
import { isKnown, roughly, sumOf } from '../shell/estimate';
import { Field } from '../shell/Field';
import { bytes, recipeText } from '../shell/format';
import { Panel } from '../shell/Panel';
import { Row } from '../shell/Row';
import { useSay } from '../shell/useSay';
import { ChosenObjects } from './ChosenObjects';
import { PassRows } from './PassRows';
import { factors, factorsText } from './factors';
import { LightRows } from './LightRows';
import { RegionRows } from './RegionRows';
import type { Item } from '../shell/tree';
import { UnfitNote } from './UnfitNote';

type Plain = NonNullable<LayerDocument['layer']['material']>;

const MATERIALS: { value: Plain['kind'] | 'own'; label: string; hint?: string }[] = [
  { value: 'own', label: 'their own' },
  { value: 'clay', label: 'clay', hint: 'matt' },
  { value: 'plastic', label: 'plastic', hint: 'glossy' },
  { value: 'metal', label: 'metal', hint: 'mirroring' },
];

const yesNo = (yes: string, no: string) => [
  { value: 'yes', label: yes },
  { value: 'no', label: no },
];

/** The current layer: what it overrides, what it is taken apart into, and what that costs. */
export function LayerPanel({
  strand,
  items,
  chosen,
  drawing,
  onDrawing,
}: {
  strand: StrandView;
  items: Item[];
  chosen: ReadonlySet<number>;
  /** True while the region is drawn on the picture. */
  drawing: boolean;
  onDrawing: (on: boolean) => void;
}) {
  const { layer } = strand;
  const { document: d } = layer;
  const { layer: l } = d;
  const change = useChangeView(strand);
  const parts = useStrandParts();
  const put = useSay();
  const putLayer = (part: Partial<LayerDocument['layer']>, about: string) =>
    put(change.layer({ layer: { ...l, ...part } }), about);
  const owner = `layer ${layer.id}`;
  const unfit = useRoles([layer], strand.shot.revisionId)[0]?.unfit ?? [];
  return (
    <Panel label="Layer">
      <Field
        owner={owner}
        label="Name of the layer"
        value={layer.name}
        part={(name) => name}
        put={(name) => put(change.layerName(name), 'Name of the layer')}
        className="w-full font-[640]"
      />
      <Costs layerId={layer.id} />
      <ChosenObjects layer={layer} items={items} chosen={chosen} groups={d.passes.lightGroups} />
      <Row name="Strand" hint={`of ${strand.shot.name}`}>
        <Choice
          label={`Strand of ${strand.shot.name}`}
          value={strand.strand.on ? 'yes' : 'no'}
          options={[
            { value: 'yes', label: 'on', hint: 'rendered and merged' },
            { value: 'no', label: 'off' },
          ]}
          onChange={(v) => void put(change.strand({ on: v === 'yes' }), 'strand')}
        />
      </Row>
      <Row name="Recipe" note={recipeText(strand.recipe.document)}>
        <Choice
          label="Recipe of the layer"
          value={d.recipeId ?? 0}
          options={[
            { value: 0, label: 'the shots’ own' },
            ...(parts?.recipes ?? []).map((r) => ({
              value: r.id,
              label: r.name,
              hint: recipeText(r.document),
            })),
          ]}
          onChange={(id) => void put(change.layer({ recipeId: id || null }), 'recipe')}
        />
      </Row>
      <RegionRows
        strand={strand}
        items={items}
        chosen={chosen}
        drawing={drawing}
        onDrawing={onDrawing}
        put={putLayer}
      />
      <Row name="Material" hint={l.material ? '' : 'no override'}>
        <Choice
          label="Material"
          value={l.material?.kind ?? 'own'}
          options={MATERIALS}
          onChange={(kind) =>
            void putLayer(
              {
                material: kind === 'own' ? null : { grey: 0.5, except: [], ...l.material, kind },
              },
              'material',
            )
          }
        />
      </Row>
      {l.material && (
        <>
          <Row name="Grey" hint="0 to 1">
            <Field
              owner={owner}
              label="Grey"
              value={String(l.material.grey)}
              part={(v) => ({ material: { ...l.material!, grey: Number(v) } })}
              put={(part, about) => putLayer(part, about ?? 'grey')}
              className="fig w-14"
            />
          </Row>
          <Row name="Except" note="names or patterns of objects that keep their own">
            <Field
              owner={owner}
              label="Objects that keep their material"
              value={l.material.except.join(' ') || 'none'}
              part={(v) => ({
                material: {
                  ...l.material!,
                  except: v.trim() === 'none' ? [] : v.trim().split(/\s+/),
                },
              })}
              put={(part, about) => putLayer(part, about ?? 'except')}
              className="w-full"
            />
            <UnfitNote of={l.material.except} unfit={unfit} />
          </Row>
        </>
      )}
      <LightRows layer={layer} unfit={unfit} items={items} chosen={chosen} put={putLayer} />
      <Row name="Environ." hint="factor">
        ×{' '}
        <Field
          owner={owner}
          label="Factor on the environment: one number, or red green blue"
          value={factorsText(l.environment)}
          part={factors}
          put={(environment, about) => putLayer({ environment }, about ?? 'environment')}
          className="fig w-28"
        />
      </Row>
      <Row name="Textures">
        <Choice
          label="Textures"
          value={l.textures ? 'yes' : 'no'}
          options={yesNo('as in the scene', 'none')}
          onChange={(v) => void putLayer({ textures: v === 'yes' }, 'textures')}
        />
      </Row>
      <Row name="Behind">
        <Choice
          label="Behind the objects"
          value={d.background ? 'yes' : 'no'}
          options={yesNo('the environment', 'transparent')}
          onChange={(v) => void put(change.layer({ background: v === 'yes' }), 'background')}
        />
      </Row>
      <Row name="Merging" note={l.under ? 'edges of holdouts keep their strength' : undefined}>
        <Choice
          label="Merging"
          value={l.under ? 'under' : 'add'}
          options={[
            { value: 'add', label: 'add, or lay over', hint: 'as it is usual' },
            { value: 'under', label: 'lies under others' },
          ]}
          onChange={(v) => void putLayer({ under: v === 'under' }, 'merging')}
        />
      </Row>
      <PassRows strand={strand} put={put} />
    </Panel>
  );
}

/** What all strands of the layer that are on take. */
function Costs({ layerId }: { layerId: number }) {
  const on = (useStrands().data ?? []).filter((s) => s.on && s.layerId === layerId).length;
  const known = (useEstimates().data ?? []).filter((e) => e.layerId === layerId);
  const all = known.every(isKnown) && known.length === on && on > 0;
  return (
    <p className="fig mb-2 text-t2">
      {on === 0 ? 'no strand is on' : `${on} ${on === 1 ? 'strand' : 'strands'}`}
      {all &&
        ` · ${roughly(sumOf(known.map((e) => e.seconds)).value)} · ${bytes(sumOf(known.map((e) => e.bytes)).value)} to render`}
    </p>
  );
}
