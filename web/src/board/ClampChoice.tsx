import type { Recipe, RunStrand, Settings } from '../api/client';
import { useDefaults, useRunStrands } from '../api/queries';
import { Choice } from '../shell/Choice';
import { ClampedLight } from '../shell/ClampedLight';
import { clampText } from '../shell/format';
import { Row } from '../shell/Row';

const CLAMPS = [0, 1, 2, 4, 8, 16, 64];

const clampOf = ({ recipe }: Settings) => recipe.bounces.indirectClamp;

/** What the clamp took from the same camera when it was last rendered with it. */
function useClamped(camera: string, clamp: number): RunStrand | undefined {
  return useRunStrands().data?.find(
    (r) => r.camera === camera && r.shareCut !== null && r.clamp === clamp,
  );
}

/** How bright bounced light may be in one sample: it ends fireflies, and makes rooms darker. */
export function ClampChoice({
  recipe,
  camera,
  put,
}: {
  recipe: Recipe;
  /** Through which it is looked at. */
  camera: string;
  put: (part: Partial<Recipe>) => void;
}) {
  const usual = useDefaults()?.settings;
  const clamp = recipe.bounces.indirectClamp;
  const last = useClamped(camera, clamp);
  const hint = (n: number) =>
    n === 0
      ? 'fireflies stay'
      : n === 1
        ? 'fewer fireflies, darker'
        : usual && n === clampOf(usual)
          ? 'default'
          : undefined;
  return (
    <Row
      name="Clamp"
      hint="of bounced light"
      note={clamp > 0 && last && <ClampedLight from={last} />}
    >
      <Choice
        label="Clamp of bounced light, luminance with white at 1"
        value={clamp}
        options={[...new Set([...CLAMPS, clamp])]
          .sort((a, b) => a - b)
          .map((n) => ({ value: n, label: clampText(n), hint: hint(n) }))}
        onChange={(indirectClamp) => put({ bounces: { ...recipe.bounces, indirectClamp } })}
      />
    </Row>
  );
}
