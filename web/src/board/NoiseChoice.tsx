import type { Recipe } from '../api/client';
import { Choice } from '../shell/Choice';
import { Row } from '../shell/Row';

/** Whether noise is taken out of the picture. */
export function NoiseChoice({
  recipe,
  put,
}: {
  recipe: Recipe;
  put: (part: Partial<Recipe>) => void;
}) {
  return (
    <Row name="Denoise" hint="the beauty">
      <Choice
        label="Denoise"
        value={recipe.denoising.picture ? 'on' : 'off'}
        options={[
          { value: 'off', label: 'off' },
          { value: 'on', label: 'on' },
        ]}
        onChange={(v) => put({ denoising: { ...recipe.denoising, picture: v === 'on' } })}
      />
    </Row>
  );
}
