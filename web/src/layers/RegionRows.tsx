import type { LayerDocument } from '../api/client';
import type { StrandView } from '../api/strands';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { Row } from '../shell/Row';
import type { Item } from './tree';

type Region = NonNullable<LayerDocument['layer']['region']>;

/** The part of the picture that is rendered: all of it, a rectangle, or what follows objects. */
export function RegionRows({
  strand,
  items,
  chosen,
  put,
}: {
  strand: StrandView;
  items: Item[];
  chosen: ReadonlySet<number>;
  put: (part: Partial<LayerDocument['layer']>, about: string) => Promise<string | undefined>;
}) {
  const { region } = strand.layer.document.layer;
  const names = items.filter((i) => chosen.has(i.object.node)).map((i) => i.object.name);
  const text = !region
    ? 'the whole picture'
    : region.fixed
      ? `${region.fixed.width} × ${region.fixed.height} at ${region.fixed.x}, ${region.fixed.y}`
      : `follows ${region.follow.join(', ')}`;
  const kind = !region ? 'whole' : region.fixed ? 'fixed' : 'follow';
  const some = names.length > 2 ? `${names.length} chosen objects` : names.join(', ');
  return (
    <>
      <Row name="Region">
        <Choice
          label="Region"
          value={kind}
          shown={text}
          options={[
            { value: 'whole', label: 'the whole picture' },
            ...(kind === 'fixed' ? [{ value: 'fixed', label: text }] : []),
            ...(names.length > 0
              ? [{ value: 'chosen', label: `follow ${some}` }]
              : kind === 'follow'
                ? []
                : [{ value: kind, label: 'choose objects that it is to follow' }]),
            ...(kind === 'follow' ? [{ value: 'follow', label: text }] : []),
          ]}
          onChange={(v) => {
            if (v === 'whole') {
              void put({ region: null }, 'region');
            } else if (v === 'chosen') {
              const follow: Region = {
                fixed: null,
                follow: names,
                pad: region?.pad ?? 8,
                snap: region?.snap ?? 16,
                constantSize: region?.constantSize ?? false,
              };
              void put({ region: follow }, 'region');
            }
          }}
        />
      </Row>
      {region && !region.fixed && (
        <Row name="Around it" hint="px">
          <Field
            owner={`layer ${strand.layer.id}`}
            label="Pixels around what the region follows"
            value={String(region.pad)}
            part={(v) => ({ region: { ...region, pad: Number(v) } })}
            put={(part, about) => put(part, about ?? 'region')}
            className="fig w-14"
          />
        </Row>
      )}
    </>
  );
}
