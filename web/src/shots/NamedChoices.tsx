import type { Shot } from '../api/client';
import { layersOf, useStrandParts } from '../api/strands';
import { useGo } from '../shell/address';
import { Choice } from '../shell/Choice';
import { deliveryText, recipeText } from '../shell/format';
import { Row } from '../shell/Row';
import type { Put } from './settings';

/** What a shot names: its layers, recipe and delivery. */
export function NamedChoices({ shot, put }: { shot: Shot; put: Put }) {
  const parts = useStrandParts();
  const go = useGo();
  if (!parts) {
    return null;
  }
  const recipe = parts.recipes.find((r) => r.id === shot.recipeId);
  const delivery = parts.deliveries.find((d) => d.id === shot.deliveryId);
  const on = layersOf(shot, parts).map((l) => l.name);
  return (
    <>
      <Row name="Recipe" note={recipe && recipeText(recipe.document)}>
        <Choice
          label="Recipe"
          value={shot.recipeId}
          options={parts.recipes.map((r) => ({
            value: r.id,
            label: r.name,
            hint: recipeText(r.document),
          }))}
          onChange={(recipeId) => void put({ recipeId })}
        />
      </Row>
      <Row name="Delivery" note={delivery && deliveryText(delivery.document)}>
        <Choice
          label="Delivery"
          value={shot.deliveryId}
          options={parts.deliveries.map((d) => ({
            value: d.id,
            label: d.name,
            hint: deliveryText(d.document),
          }))}
          onChange={(deliveryId) => void put({ deliveryId })}
        />
      </Row>
      <Row name="Layers">
        <button
          className="max-w-full truncate text-left underline decoration-t3 underline-offset-3"
          title="Switch layers of this shot on and off on the Board"
          onClick={() => go({ station: 'board' })}
        >
          {on.length ? on.join(', ') : 'none is on'}
        </button>
      </Row>
    </>
  );
}
