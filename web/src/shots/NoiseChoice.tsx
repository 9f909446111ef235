import type { Shot } from '../api/client';
import { Choice } from '../shell/Choice';
import { Row } from '../shell/Row';
import type { Put } from './Field';

const GUIDES = 'guides';

type Denoising = { picture?: boolean; amount?: number };

/** What is done about noise: the setting and the pass that go with it. */
export function NoiseChoice({ shot, put }: { shot: Shot; put: Put }) {
  const settings = shot.settings as Record<string, unknown>;
  const denoising = (settings.denoising ?? {}) as Denoising;
  const written = shot.passes.includes(GUIDES);
  const value = denoising.picture ? (written ? 'both' : 'picture') : written ? 'data' : 'off';
  return (
    <Row name="Noise">
      <Choice
        label="Noise"
        value={value}
        options={[
          { value: 'off', label: 'left in' },
          { value: 'picture', label: 'taken out' },
          { value: 'data', label: 'left in, guides written', hint: 'to take it out later' },
          { value: 'both', label: 'taken out, guides written' },
        ]}
        onChange={(v) => {
          const passes = shot.passes.filter((p) => p !== GUIDES);
          void put({
            passes: v === 'data' || v === 'both' ? [...passes, GUIDES] : passes,
            settings: {
              ...settings,
              denoising: { ...denoising, picture: v === 'picture' || v === 'both' },
            } as Shot['settings'],
          });
        }}
      />
    </Row>
  );
}
