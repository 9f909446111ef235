import { Dialog, DialogBackdrop, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState, type ReactNode } from 'react';
import type { Input, Stack, Usual } from '../api/client';
import { usePlayhead } from '../shell/playhead';
import { Button } from '../shell/Button';
import { AddInput } from './AddInput';
import { Rebuilds } from './Rebuilds';
import { StartMix } from './StartMix';
import { changedInput, movedInput, numberAt, summary, withInputs, withValue } from './stack';
import type { Edit } from './useEdit';
import { useStackPicture } from './useStackPicture';
import { useSettled } from '../shell/useSettled';

const PLAIN = { view: 'STANDARD' as const, stops: 0 };

/** Longer side of a small picture, pixels. */
const SMALL = 128;

/** What is dragged: the id of an input. */
const INPUT = 'application/x-posada-input';

/** The inputs, the topmost first. */
export function StackPanel({
  stack,
  edit,
  chosen,
  onChoose,
  labels,
  usual,
  steps,
  stamp,
  head,
}: {
  stack: Stack;
  edit: Edit;
  chosen: string | undefined;
  onChoose: (id: string) => void;
  /** Names of the operators. */
  labels: Map<string, string>;
  usual: Usual | undefined;
  /** Numbers under the pointer after each input; undefined if it is nowhere. */
  steps: Map<string, number[]> | undefined;
  stamp: string;
  head: ReactNode;
}) {
  const [over, setOver] = useState<number>();
  const [adding, setAdding] = useState<'input' | 'mix'>();
  const put = (inputs: Input[]) => {
    edit((s) => withInputs(s, inputs));
    setAdding(undefined);
  };
  return (
    <aside aria-label="Stack" className="flex min-h-0 flex-col border-r border-line">
      <header className="flex items-baseline justify-between gap-3 px-4.5 pt-3.5 pb-1 font-semibold">
        {head}
        <span className="text-xs font-normal whitespace-nowrap text-t3">
          {stack.inputs.length} {stack.inputs.length === 1 ? 'input' : 'inputs'}, top first
        </span>
      </header>
      <div className="min-h-0 flex-1 overflow-auto">
        <ol>
          {stack.inputs.map((i, at) => (
            <li
              key={i.id}
              draggable
              onDragStart={(e) => {
                // The sliders are dragged themselves.
                if ((document.activeElement as HTMLInputElement | null)?.type === 'range') {
                  e.preventDefault();
                  return;
                }
                e.dataTransfer.setData(INPUT, i.id);
              }}
              onDragOver={(e) => {
                if (e.dataTransfer.types.includes(INPUT)) {
                  e.preventDefault();
                  setOver(at);
                }
              }}
              onDragEnd={() => setOver(undefined)}
              onDrop={(e) => {
                const id = e.dataTransfer.getData(INPUT);
                setOver(undefined);
                if (stack.inputs.some((o) => o.id === id)) {
                  edit((s) => movedInput(s, id, at));
                }
              }}
              className={over === at ? 'border-t-2 border-mark' : ''}
            >
              <Row
                input={i}
                at={at}
                stack={stack}
                edit={edit}
                chosen={i.id === chosen}
                onChoose={() => onChoose(i.id)}
                text={summary(i, usual, labels.get(i.operator) ?? i.operator)}
                base={at === stack.inputs.length - 1}
                values={steps && (steps.get(i.id) ?? [])}
                stamp={stamp}
              />
            </li>
          ))}
        </ol>
        {stack.inputs.length === 0 && (
          <p className="px-4.5 py-3 text-t2">
            Nothing is put together yet. Add an input, or begin with a mix.
          </p>
        )}
        <div className="flex gap-2.5 px-4.5 py-3.5">
          <Button onClick={() => setAdding('input')}>Add an input …</Button>
          <Button onClick={() => setAdding('mix')}>Starting mix …</Button>
        </div>
        <Rebuilds />
      </div>
      {adding && (
        <Dialog open onClose={() => setAdding(undefined)} className="relative z-40 outline-none">
          <DialogBackdrop className="fixed inset-0 bg-black/60" />
          <div className="fixed inset-0 grid place-items-center">
            <DialogPanel className="max-h-[80vh] w-150 overflow-auto rounded-sm border border-line bg-up p-6">
              <DialogTitle className="mb-2 font-semibold">
                {adding === 'input' ? 'Add an input' : 'Starting mix'}
              </DialogTitle>
              {adding === 'input' ? (
                <AddInput onAdd={(i) => put([i])} />
              ) : (
                <>
                  <p className="mb-2 text-t2">
                    Laid on top of what is there; take away what is not wanted.
                  </p>
                  <StartMix which={() => true} onStart={put} />
                </>
              )}
              <div className="mt-4 flex justify-end">
                <Button onClick={() => setAdding(undefined)}>Cancel</Button>
              </div>
            </DialogPanel>
          </div>
        </Dialog>
      )}
    </aside>
  );
}

const figure = (v: number) => (Math.abs(v) >= 100 ? v.toFixed(1) : v.toFixed(3));

function Row({
  input,
  at,
  stack,
  edit,
  chosen,
  onChoose,
  text,
  base,
  values,
  stamp,
}: {
  input: Input;
  at: number;
  stack: Stack;
  edit: Edit;
  chosen: boolean;
  onChoose: () => void;
  text: string;
  base: boolean;
  values: number[] | undefined;
  stamp: string;
}) {
  const frame = usePlayhead();
  const strength = numberAt(input.strength, frame / stack.rate);
  const put = (part: Partial<Input>) => edit((s) => changedInput(s, input.id, part));
  return (
    <div
      className={`group relative flex gap-2.5 border-b border-line px-4.5 py-1.5 ${chosen ? 'bg-up2' : 'hover:bg-up'} ${!input.muted ? '' : chosen ? 'text-t2' : 'text-t3'}`}
    >
      <button
        className="flex min-w-0 flex-1 items-center gap-2.5 text-left"
        aria-pressed={chosen}
        onClick={onChoose}
        onKeyDown={(e) => {
          const to = { ArrowUp: at - 1, ArrowDown: at + 1 }[e.key];
          if (e.altKey && to !== undefined && to >= 0 && to < stack.inputs.length) {
            e.preventDefault();
            edit((s) => movedInput(s, input.id, to));
          }
        }}
        title="Drag to put it elsewhere, or Alt with arrow up and down"
      >
        <Thumbnail stack={stack} input={input} stamp={stamp} />
        <span className="min-w-0 flex-1">
          <span className={`block truncate ${chosen ? 'font-semibold' : ''}`}>{input.name}</span>
          {values === undefined ? (
            <span className="block truncate text-xs text-t2">
              {base && input.operator === 'over' ? text.replace('over', 'base') : text}
            </span>
          ) : (
            <span className="fig block truncate text-t2" data-testid="step">
              {values.length ? values.slice(0, 3).map(figure).join(' ') : 'left out'}
            </span>
          )}
        </span>
      </button>
      <span
        className={`absolute top-1 right-20 flex gap-1.5 rounded-sm bg-up2 px-1.5 text-xs ${input.muted || input.solo ? '' : 'opacity-0 group-hover:opacity-100 focus-within:opacity-100'}`}
      >
        {(['muted', 'solo'] as const).map((what) => (
          <button
            key={what}
            aria-pressed={input[what]}
            aria-label={`${what === 'muted' ? 'Mute' : 'Solo'} ${input.name}`}
            className={`min-h-6 ${input[what] ? 'text-t1 underline decoration-mark decoration-2 underline-offset-2' : 'text-t2 hover:text-t1'}`}
            onClick={() => put({ [what]: !input[what] })}
          >
            {what === 'muted' ? 'mute' : 'solo'}
          </button>
        ))}
      </span>
      <span className="flex w-12 shrink-0 flex-col items-end justify-center">
        <span className="fig leading-4">{strength.toFixed(2)}</span>
        <input
          type="range"
          className="slim w-12"
          aria-label={`Strength of ${input.name}`}
          min={0}
          max={1}
          step={0.01}
          value={Math.min(1, strength)}
          onChange={(e) => {
            const v = withValue(input.strength, frame / stack.rate, Number(e.target.value));
            edit((s) => changedInput(s, input.id, { strength: v }), false);
          }}
          onPointerUp={() => edit((s) => s)}
          onKeyUp={() => edit((s) => s)}
        />
      </span>
    </div>
  );
}

function Thumbnail({ stack, input, stamp }: { stack: Stack; input: Input; stamp: string }) {
  const frame = useSettled(usePlayhead(), 300);
  const own = useSettled(
    JSON.stringify({ ...stack, inputs: [{ ...input, muted: false, solo: false, strength: 1 }] }),
    400,
  );
  const [alone, setAlone] = useState<{ text: string; stack: Stack }>();
  if (alone?.text !== own) {
    setAlone({ text: own, stack: JSON.parse(own) as Stack });
  }
  const { made } = useStackPicture(alone?.stack, frame, 'INPUT', input.id, PLAIN, stamp, SMALL);
  return (
    <span className="grid h-9 w-16 shrink-0 place-items-center overflow-hidden rounded-sm bg-black">
      {made?.url && <img src={made.url} alt="" draggable={false} className="max-h-9 max-w-16" />}
    </span>
  );
}
