import type { Shot } from '../api/client';
import { layersOf, useStrandParts } from '../api/strands';
import { useGo } from '../shell/address';
import { deliveryText, recipeText } from '../shell/format';
import { NamedChoice } from '../shell/NamedChoice';
import { Row } from '../shell/Row';
import type { Put } from './settings';

/** What a shot names: its layers, recipe and delivery. */
export function NamedChoices({ shot, put }: { shot: Shot; put: Put }) {
  const parts = useStrandParts();
  const go = useGo();
  if (!parts) {
    return null;
  }
  const on = layersOf(shot, parts).map((l) => l.name);
  return (
    <>
      <NamedChoice
        name="Recipe"
        value={shot.recipeId}
        all={parts.recipes}
        text={recipeText}
        onChange={(recipeId) => void put({ recipeId })}
      />
      <NamedChoice
        name="Delivery"
        value={shot.deliveryId}
        all={parts.deliveries}
        text={deliveryText}
        onChange={(deliveryId) => void put({ deliveryId })}
      />
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
