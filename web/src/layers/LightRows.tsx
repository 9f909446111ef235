import { useId, useState } from 'react';
import type { LayerDocument } from '../api/client';
import type { Layer } from '../api/strands';
import { Field } from '../shell/Field';
import { Row } from '../shell/Row';
import { factors, factorsText } from './factors';
import { UnfitNote } from './UnfitNote';
import type { Item } from '../shell/tree';

type Gain = LayerDocument['layer']['lights'][number];

const matchText = (g: Gain) => (g.match.join(' ') === '*' ? 'all lights' : g.match.join(' '));
const matchOf = (text: string) =>
  text.trim() === 'all lights' ? ['*'] : text.trim().split(/[\s,]+/);

/** Factors on lights and on what gives off light: on all, or on some by name and pattern. */
export function LightRows({
  layer,
  unfit,
  items,
  chosen,
  put,
}: {
  layer: Layer;
  /** Patterns of the layer that no object fits. */
  unfit: string[];
  items: Item[];
  chosen: ReadonlySet<number>;
  put: (part: Partial<LayerDocument['layer']>, about: string) => Promise<string | undefined>;
}) {
  const { lights } = layer.document.layer;
  const [added, setAdded] = useState<string>();
  const heading = useId();
  const owner = `layer ${layer.id}`;
  const say = (all: Gain[], about: string) => put({ lights: all }, about);
  const chosenLights = items
    .filter((i) => chosen.has(i.object.node) && i.object.kind !== 'CAMERA')
    .map((i) => i.object.name);
  const press = 'min-h-6 text-t1 underline underline-offset-3';
  const all = lights.some((g) => g.match.join(' ') === '*');
  // The first that names a light counts, so what is of all comes last.
  const withOne = (match: string[]) => {
    const one = { match, color: [0.5, 0.5, 0.5] };
    return match[0] === '*' ? [...lights, one] : [one, ...lights];
  };
  const add = (match: string[]) =>
    say(withOne(match), 'lights').then((why) => {
      if (why === undefined) {
        setAdded(undefined);
      }
      return why;
    });
  return (
    <section aria-labelledby={heading}>
      <Row
        name="Lights"
        hint="factor"
        note={
          lights.length === 0
            ? 'as in the scene; factors are on lamps and on what gives off light'
            : undefined
        }
      >
        <span id={heading} className="sr-only">
          Factors on lights
        </span>
        <span className="flex flex-wrap gap-x-3">
          {!all && (
            <button className={press} onClick={() => void add(['*'])}>
              on all
            </button>
          )}
          {chosenLights.length > 0 && (
            <button className={press} onClick={() => void add(chosenLights)}>
              on {chosenLights.length > 1 ? `${chosenLights.length} chosen` : chosenLights[0]}
            </button>
          )}
          {added === undefined && (
            <button className={press} onClick={() => setAdded('')}>
              by pattern
            </button>
          )}
        </span>
      </Row>
      {added !== undefined && (
        <Row name="" note="names or patterns of lights, such as lamp-*">
          <Field
            owner={owner}
            label="Lights that get a factor, by name or pattern"
            value={added}
            part={matchOf}
            put={add}
            className="w-full"
          />
        </Row>
      )}
      {lights.map((g, i) => {
        const change = (part: Partial<Gain>) =>
          lights.map((o, k) => (k === i ? { ...g, ...part } : o));
        return (
          <div
            key={i}
            className="flex min-h-7 flex-wrap items-baseline gap-x-2 border-b border-line py-1"
          >
            <Field
              owner={owner}
              label={`Lights of factor ${i + 1}, by name or pattern`}
              value={matchText(g)}
              part={matchOf}
              put={(match, about) => say(change({ match }), about ?? 'lights')}
              className="min-w-0 flex-1"
            />
            ×
            <Field
              owner={owner}
              label={`Factor on ${matchText(g)}: one number, or red green blue`}
              value={factorsText(g.color)}
              part={factors}
              put={(color, about) => say(change({ color }), about ?? 'lights')}
              className="fig w-20"
            />
            <button
              className="min-h-6 min-w-6 text-t2 hover:text-t1"
              aria-label={`Take the factor on ${matchText(g)} away`}
              onClick={() =>
                void say(
                  lights.filter((_, k) => k !== i),
                  'lights',
                )
              }
            >
              ✕
            </button>
            <UnfitNote of={g.match} unfit={unfit} />
          </div>
        );
      })}
    </section>
  );
}
