import { useEffect, useMemo, useState } from 'react';
import type { Stack } from '../api/client';
import {
  useAddStack,
  useOffered,
  useOperators,
  useRemoveStack,
  useStacks,
  useUsual,
  type StackDefinition,
} from '../api/assembly';
import { useProduction } from '../api/queries';
import { useGo, usePlace } from '../shell/address';
import { Button } from '../shell/Button';
import { Choice } from '../shell/Choice';
import { useCurrentShot } from '../shell/current';
import { useKeys } from '../shell/keys';
import { usePlayhead } from '../shell/playhead';
import { ribbon } from '../shell/ribbon';
import { useSay } from '../shell/useSay';
import { InputPanel } from './InputPanel';
import { ends } from './range';
import { StartMix } from './StartMix';
import { keyFrames } from './stack';
import { StackPanel } from './StackPanel';
import { StackView, type Picking } from './StackView';
import { useEdit } from './useEdit';

/** The stack that the address names, else one of the current shot, else the first. */
function useCurrentStack(): StackDefinition | undefined {
  const stacks = useStacks();
  const named = usePlace()?.stack;
  const shot = useCurrentShot();
  return (
    stacks?.find((s) => s.name === named) ??
    stacks?.find((s) =>
      s.document.inputs.some((i) => i.source.footage?.startsWith(`shot-${shot?.id}.`)),
    ) ??
    stacks?.[0]
  );
}

export default function AssemblyStation() {
  const stacks = useStacks();
  const current = useCurrentStack();
  const [starting, setStarting] = useState(false);
  if (!stacks) {
    return <main />;
  }
  return current && !starting ? (
    <Working key={current.id} of={current} onNew={() => setStarting(true)} />
  ) : (
    <Beginning onClose={current ? () => setStarting(false) : undefined} />
  );
}

/** A name that no stack has yet. */
export const freeName = (wanted: string, taken: string[]) => {
  const base =
    wanted
      .toLowerCase()
      .replace(/[^a-z0-9_-]+/g, '-')
      .replace(/^[-_]+/, '') || 'stack';
  const short = base.slice(0, 34);
  for (let k = 1; ; k++) {
    const name = k === 1 ? short : `${short}-${k}`;
    if (!taken.includes(name)) {
      return name;
    }
  }
};

/** Nothing is put together yet: what a stack can begin with. */
function Beginning({ onClose }: { onClose?: () => void }) {
  const shot = useCurrentShot();
  const offered = useOffered();
  const stacks = useStacks() ?? [];
  const production = useProduction().data;
  const add = useAddStack();
  const say = useSay();
  const go = useGo();
  const own = offered?.filter((o) => o.footage.startsWith(`shot-${shot?.id}.`)) ?? [];
  const begin = async (inputs: Stack['inputs']) => {
    const first = own[0];
    if (!production || !shot) {
      return;
    }
    const document: Stack = {
      width: first?.width ?? production.width,
      height: first?.height ?? production.height,
      rate: first?.rate ?? production.frameRate,
      frames: first?.frames ?? shot.frames,
      inputs,
    };
    const name = freeName(
      shot.name,
      stacks.map((s) => s.name),
    );
    await say(
      add.mutateAsync({ productionId: production.id, name, document }).then((made) => {
        go({ stack: made.name });
        onClose?.();
      }),
      'new stack',
    );
  };
  if (!offered) {
    return <main />;
  }
  return (
    <main className="overflow-auto bg-well">
      <div className="mx-auto max-w-180 px-5 py-12">
        {own.length === 0 ? (
          <div className="text-center">
            <p className="big mb-2">Nothing to put together yet</p>
            <p className="mb-5 text-t2">
              {shot ? `No layer of ${shot.name} has been rendered yet.` : 'There is no shot yet.'}{' '}
              Passes and layers can be put together as soon as they are.
            </p>
            <div className="flex justify-center gap-2.5">
              <Button main onClick={() => go({ station: 'board' })}>
                Go to Board
              </Button>
              {offered.slice(0, 3).map((o) => (
                <Button key={o.footage} onClick={() => go({ shot: o.shot, layer: o.layer })}>
                  Use {o.shot}
                </Button>
              ))}
              <Button onClick={() => void begin([])}>Begin with nothing</Button>
              {onClose && <Button onClick={onClose}>Cancel</Button>}
            </div>
          </div>
        ) : (
          <>
            <p className="big mb-1">Put {shot!.name} together</p>
            <p className="mb-6 text-t2">
              A stack begins with a mix of what was rendered. Every input can be changed later.
            </p>
            <StartMix
              onStart={(inputs) => void begin(inputs)}
              which={(m) => !m.isAdded}
              plain={own}
            />
            <div className="mt-6 flex gap-2.5">
              <Button onClick={() => void begin([])}>Begin with nothing</Button>
              {onClose && <Button onClick={onClose}>Cancel</Button>}
            </div>
          </>
        )}
      </div>
    </main>
  );
}

function Working({ of, onNew }: { of: StackDefinition; onNew: () => void }) {
  const { stack, edit, moving } = useEdit(of);
  const [chosen, setChosen] = useState<string>();
  const [picking, setPicking] = useState<Picking>();
  const [steps, setSteps] = useState<Map<string, number[]>>();
  const frame = usePlayhead();
  const usual = useUsual();
  const operators = useOperators();
  const offered = useOffered();
  const input = stack.inputs.find((i) => i.id === chosen) ?? stack.inputs[0];
  const id = input?.id;
  const time = frame / stack.rate;
  // What was rendered since is another picture.
  const stamp = (offered ?? []).map((o) => o.key).join();

  const marks = keyFrames(input, stack.rate).join();
  const frames = ends(stack.frames);
  useEffect(() => {
    ribbon.put({
      spans: [{ id: of.id, name: of.name, first: frames[0], last: frames[1] }],
      marks: marks ? marks.split(',').map(Number) : [],
    });
  }, [of.id, of.name, frames[0], frames[1], marks]); // eslint-disable-line react-hooks/exhaustive-deps
  useEffect(() => () => ribbon.clear(), []);

  useKeys((e) => {
    if (e.key === 'Escape' && picking) {
      setPicking(undefined);
      return true;
    }
    // Elsewhere arrows open lists.
    const where = e.target as HTMLElement;
    if (where !== document.body && !where.closest('[aria-label=Stack]')) {
      return false;
    }
    const at = stack.inputs.findIndex((i) => i.id === id);
    const next = { ArrowUp: at - 1, ArrowDown: at + 1 }[e.key];
    if (next !== undefined && stack.inputs[next]) {
      setChosen(stack.inputs[next].id);
      return true;
    }
    return false;
  });
  const labels = useMemo(() => new Map(operators?.map((o) => [o.operator, o.label])), [operators]);
  return (
    <main className="grid min-h-0 grid-cols-[300px_minmax(0,1fr)_300px]">
      <StackPanel
        stack={stack}
        edit={edit}
        chosen={id}
        onChoose={setChosen}
        labels={labels}
        usual={usual}
        steps={steps}
        stamp={stamp}
        head={<StackName of={of} onNew={onNew} />}
      />
      <StackView
        stack={stack}
        frame={frame}
        input={input}
        moving={moving}
        picking={picking}
        onPicked={() => setPicking(undefined)}
        onSteps={setSteps}
        stamp={stamp}
      />
      {usual && operators ? (
        <InputPanel
          of={of}
          stack={stack}
          edit={edit}
          input={input}
          usual={usual}
          operators={operators}
          time={time}
          frame={frame}
          picking={picking}
          onPick={setPicking}
          onChoose={setChosen}
        />
      ) : (
        <aside className="border-l border-line" />
      )}
    </main>
  );
}

/** The stack's name, as a list of all. */
function StackName({ of, onNew }: { of: StackDefinition; onNew: () => void }) {
  const stacks = useStacks() ?? [];
  const remove = useRemoveStack();
  const say = useSay();
  const go = useGo();
  return (
    <Choice
      label="Stack"
      value={String(of.id)}
      options={[
        ...stacks.map((s) => ({
          value: String(s.id),
          label: s.name,
          hint: `${s.document.inputs.length} inputs`,
        })),
        { value: 'new', label: 'New stack …' },
        { value: 'remove', label: `Remove ${of.name}` },
      ]}
      onChange={(v) => {
        if (v === 'new') {
          onNew();
        } else if (v === 'remove') {
          void say(remove.mutateAsync(of.id), `stack ${of.id}`).then(() =>
            go({ stack: undefined }),
          );
        } else {
          go({ stack: stacks.find((s) => String(s.id) === v)?.name });
        }
      }}
    />
  );
}
