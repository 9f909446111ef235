import { useState } from 'react';
import type { Fault, Part } from '../api/client';
import { useFrames, useMark, useRecipes } from '../api/queries';
import { useSendBack } from '../api/review';
import { useGo } from '../shell/address';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { framesText, version } from '../shell/format';
import { useTell } from '../shell/Notices';
import { usePlayhead } from '../shell/playhead';
import { Row } from '../shell/Row';
import type { Source } from './source';

type How = 'as before' | 'recipe' | 'more';

const MORE = [16, 32, 64, 128, 256, 512];

/** Renders frames, or a box of them, again; or says that they are not good. */
export function SendBack({
  source,
  wrong,
  box,
  drawing,
  onDraw,
  onForget,
  inOut,
}: {
  source: Source;
  /** What somebody called wrong. */
  wrong: Fault[];
  box: Part | undefined;
  drawing: boolean;
  onDraw: () => void;
  onForget: () => void;
  /** The frames between the in and out points, if they are set. */
  inOut: string | undefined;
}) {
  const frame = usePlayhead();
  const run = source.run!;
  const recipes = useRecipes().data;
  const send = useSendBack();
  const mark = useMark();
  const tell = useTell();
  const go = useGo();
  const [typed, setTyped] = useState<string>();
  const [how, setHow] = useState<How>('as before');
  const [recipeId, setRecipeId] = useState<number>();
  const [more, setMore] = useState(64);
  const frames = typed ?? inOut ?? String(frame);
  const counted = useFrames(frames);
  const recipe = recipes?.find((r) => r.id === recipeId) ?? recipes?.[0];
  const wrongFrames = [...new Set(wrong.flatMap((f) => f.frames))].sort((a, b) => a - b);
  const boxed = how === 'more' ? undefined : box;
  const begin = () =>
    void send
      .mutateAsync({
        strandId: run.id,
        frames,
        recipeId: how === 'recipe' ? (recipe?.id ?? null) : null,
        more: how === 'more' ? more : 0,
        ...(boxed ?? { x: 0, y: 0, width: 0, height: 0 }),
      })
      .then(
        (r) => {
          onForget();
          setTyped(undefined);
          tell(`${r.shot} ${r.layer} is rendered again as ${version(r.number)}, before the rest.`, {
            action: { label: 'Go to Run', run: () => go({ station: 'run', run: r.run }) },
          });
        },
        (e: Error) => tell(e.message, { bad: true }),
      );
  const say = (word: 'SUSPECT' | 'KEPT' | null) =>
    mark.mutate(
      {
        shotId: run.shotId!,
        layerId: run.layerId!,
        frames,
        mark: word,
        note: word === 'SUSPECT' ? 'rejected in Review' : word === 'KEPT' ? 'kept in Review' : '',
      },
      {
        onSuccess: () =>
          tell(
            word === 'SUSPECT'
              ? `Frames ${frames} are rejected: the next run renders them again.`
              : `Frames ${frames} are kept as they are.`,
            { action: { label: 'Undo', run: () => say(null) } },
          ),
        onError: (e) => tell(e.message, { bad: true }),
      },
    );
  return (
    <section aria-label="Send back">
      <Row
        name="Frames"
        note={counted.error?.message ?? (counted.data && framesText(counted.data.count))}
      >
        <input
          aria-label="Frames to render again"
          className="fig w-full border-b border-transparent bg-transparent hover:border-line focus:border-t1 focus:outline-none"
          value={frames}
          onChange={(e) => setTyped(e.target.value)}
        />
      </Row>
      {wrongFrames.length > 0 && (
        <p className="py-1">
          <button
            className="min-h-6 underline underline-offset-3"
            onClick={() => setTyped(wrongFrames.join(','))}
          >
            the {framesText(wrongFrames.length)} called wrong
          </button>
        </p>
      )}
      <Row name="How">
        <Choice<How>
          label="How they are rendered again"
          value={how}
          options={[
            { value: 'as before', label: 'as the strand says' },
            { value: 'recipe', label: 'with another recipe' },
            { value: 'more', label: 'more samples on top' },
          ]}
          onChange={setHow}
        />
      </Row>
      {how === 'recipe' && recipe && (
        <Row name="Recipe" hint={`${recipe.document.sampling.most} samples`}>
          <Choice
            label="Recipe"
            value={recipe.id}
            options={(recipes ?? []).map((r) => ({ value: r.id, label: r.name }))}
            onChange={setRecipeId}
          />
        </Row>
      )}
      {how === 'more' && (
        <Row
          name="Samples"
          hint="per pixel"
          note="Light gets better; depth, normals and mattes stay."
        >
          <Choice
            label="Samples on top"
            value={more}
            options={MORE.map((n) => ({ value: n, label: `${n} more` }))}
            onChange={setMore}
          />
        </Row>
      )}
      {how !== 'more' && (
        <Row name="Box" hint={box ? 'px' : undefined}>
          <span className="fig">
            {box
              ? `${Math.round(box.width * run.width)} × ${Math.round(box.height * run.height)}`
              : 'all of the picture'}
          </span>{' '}
          <button
            aria-pressed={drawing}
            className="ml-2 min-h-6 underline underline-offset-3"
            onClick={onDraw}
          >
            {box ? 'another' : 'draw one'}
          </button>
          {box && (
            <button className="ml-2 min-h-6 underline underline-offset-3" onClick={onForget}>
              none
            </button>
          )}
        </Row>
      )}
      <div className="mt-3 flex flex-wrap gap-2">
        <Button main disabled={send.isPending || !!counted.error} onClick={begin}>
          {boxed ? 'Render box again' : 'Render again'}
        </Button>
        <Button disabled={mark.isPending} onClick={() => say('SUSPECT')}>
          Reject
        </Button>
        <Button disabled={mark.isPending} onClick={() => say('KEPT')}>
          Keep
        </Button>
      </div>
      <p className="mt-2 text-xs text-t2">
        What is rendered again goes into a new version beside the frames that stay, before
        everything else that waits.
      </p>
    </section>
  );
}
