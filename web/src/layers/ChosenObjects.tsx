import { useRoles, useSayOfObjects } from '../api/layers';
import type { RuleChange } from '../api/client';
import type { Layer } from '../api/strands';
import { Choice } from '../shell/Choice';
import { useCurrentShot } from '../shell/current';
import { count } from '../shell/format';
import { useTell } from '../shell/Notices';
import { Row } from '../shell/Row';
import { Several } from '../shell/Several';
import type { Item } from '../shell/tree';

/** Of light that belongs to no group. */
const REST = 'rest';

/** What is said of the chosen objects beside their role. */
export function ChosenObjects({
  layer,
  items,
  chosen,
  groups,
}: {
  layer: Layer;
  items: Item[];
  chosen: ReadonlySet<number>;
  groups: Record<string, string[]>;
}) {
  const revision = useCurrentShot()?.revisionId;
  const [roles] = useRoles([layer], revision);
  const say = useSayOfObjects();
  const tell = useTell();
  const some = items.filter((i) => chosen.has(i.object.node));
  if (some.length === 0 || !roles || revision === undefined) {
    return null;
  }
  const put = (said: Partial<RuleChange['said']>, forget: RuleChange['forget'] = []) =>
    say.mutate(
      {
        layer: layer.id,
        revisionId: revision,
        said: {
          match: some.map((i) => i.object.name),
          role: null,
          castsShadows: null,
          reflected: null,
          receives: null,
          ...said,
        },
        forget,
      },
      { onError: (e) => tell(e.message, { bad: true }) },
    );
  const same = (bits: string) => {
    const all = new Set(some.map((i) => bits[i.object.node]));
    return all.size > 1 ? 'mixed' : all.has('1') ? 'yes' : 'no';
  };
  const yesNo = (value: string) => [
    { value: 'yes', label: 'yes' },
    { value: 'no', label: 'no' },
    ...(value === 'mixed' ? [{ value: 'mixed', label: 'some' }] : []),
    { value: 'inherit', label: 'as above' },
  ];
  const sets = new Set(some.map((i) => roles.receives[i.object.node]!));
  const only = sets.size === 1 ? [...sets][0]! : -1;
  const lit = only < 0 ? [] : roles.groups[only]!;
  const shadows = same(roles.shadows);
  const reflected = same(roles.reflected);
  const names = [...Object.keys(groups), REST];
  return (
    <div className="mb-3" aria-label="Chosen objects">
      <Row name="Chosen">
        {some.length === 1 ? some[0]!.object.name : `${count(some.length)} objects`}
      </Row>
      <Row name="Shadows">
        <Choice
          label="Casts shadows"
          value={shadows}
          options={yesNo(shadows)}
          onChange={(v) =>
            v === 'inherit' ? put({}, ['CASTS_SHADOWS']) : put({ castsShadows: v === 'yes' })
          }
        />
      </Row>
      <Row name="Reflected">
        <Choice
          label="Is reflected"
          value={reflected}
          options={yesNo(reflected)}
          onChange={(v) =>
            v === 'inherit' ? put({}, ['REFLECTED']) : put({ reflected: v === 'yes' })
          }
        />
      </Row>
      <Row name="Lit by" hint={sets.size > 1 && 'mixed'}>
        {names.length > 1 ? (
          <Several
            label="Lit by"
            chosen={lit}
            options={names.map((g) => ({ value: g, label: g === REST ? 'all other lights' : g }))}
            none="all lights"
            onChange={(receives) =>
              receives.length > 0 ? put({ receives }) : put({}, ['RECEIVES'])
            }
          />
        ) : (
          <span className="text-t3">all lights; there are no light groups</span>
        )}
      </Row>
    </div>
  );
}
