import type { PassName, Shot } from '../api/client';
import { Choice } from '../shell/Choice';
import { Row } from '../shell/Row';
import type { Put } from './Field';
import { withPasses, withRecipe } from './settings';

const GUIDES: PassName = 'guides';

/** Whether noise is taken out: the setting and the pass that go with it. */
export function NoiseChoice({ shot, put }: { shot: Shot; put: Put }) {
  const on = shot.settings.recipe.denoising.picture;
  const written = shot.settings.passes.wanted.includes(GUIDES);
  const value = on ? (written ? 'both' : 'on') : written ? 'guides' : 'off';
  return (
    <Row name="Denoise">
      <Choice
        label="Denoise"
        value={value}
        options={[
          { value: 'off', label: 'off' },
          { value: 'on', label: 'on' },
          { value: 'guides', label: 'off, guides written', hint: 'to denoise later' },
          { value: 'both', label: 'on, guides written' },
        ]}
        onChange={(v) => {
          const passes = shot.settings.passes.wanted.filter((p) => p !== GUIDES);
          const guides = v === 'guides' || v === 'both';
          const changed = withPasses(shot, guides ? [...passes, GUIDES] : passes);
          void put(
            withRecipe({ ...shot, ...changed }, 'denoising', {
              picture: v === 'on' || v === 'both',
            }),
          );
        }}
      />
    </Row>
  );
}
