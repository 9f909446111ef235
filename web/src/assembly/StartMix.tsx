import type { Input, MixLine, Offered } from '../api/client';
import { useMixes, useUsual } from '../api/assembly';
import { useCurrentShot } from '../shell/current';
import { Button } from '../shell/Button';

/** Mixes that the machine makes from what was rendered, each with what it does and why. */
export function StartMix({
  which,
  plain,
  onStart,
}: {
  which: (m: MixLine) => boolean;
  /** Layers of which the beauty alone may be the beginning. */
  plain?: Offered[];
  onStart: (inputs: Input[]) => void;
}) {
  const shot = useCurrentShot();
  const mixes = useMixes(shot?.id);
  const usual = useUsual();
  const some = mixes?.filter(which) ?? [];
  return (
    <ul>
      {usual &&
        plain?.map((o) => (
          <Line
            key={o.footage}
            name={`The beauty of ${o.layer}`}
            why={[`One input: what ${o.layer} looks like, v${String(o.version).padStart(3, '0')}.`]}
            onStart={() =>
              onStart([
                {
                  ...usual.input,
                  name: o.layer,
                  source: {
                    ...usual.input.source,
                    kind: 'footage',
                    footage: o.footage,
                    pass: 'beauty',
                  },
                },
              ])
            }
          />
        ))}
      {some.map((m) => (
        <Line key={m.kind} name={m.label} why={m.why} onStart={() => onStart(m.inputs)} />
      ))}
      {mixes && some.length === 0 && !plain && (
        <li className="py-2 text-t2">
          Nothing more can be made from the passes that were rendered. Occlusion and emission are
          passes that can be added in Layers.
        </li>
      )}
    </ul>
  );
}

function Line({ name, why, onStart }: { name: string; why: string[]; onStart: () => void }) {
  return (
    <li className="flex items-start gap-6 border-b border-line py-3">
      <div className="min-w-0 flex-1">
        <p className="font-semibold">{name}</p>
        {why.map((w) => (
          <p key={w} className="text-t2">
            {w}
          </p>
        ))}
      </div>
      <Button onClick={onStart} aria-label={`Use: ${name}`}>
        Use
      </Button>
    </li>
  );
}
