import { useState } from 'react';
import type { FilmOutput, Input, OperatorLine, Stack, Usual } from '../api/client';
import { useOffered, useReadAs, type StackDefinition } from '../api/assembly';
import { useFootage, useSequences } from '../api/review';
import { Choice } from '../shell/Choice';
import { Field } from '../shell/Field';
import { rateText } from '../shell/format';
import { Panel } from '../shell/Panel';
import { Row } from '../shell/Row';
import { CorrectionRows } from './CorrectionRows';
import { FilmActions, OutputRows } from './FilmRows';
import { Films } from './Films';
import { KeyedNumber } from './KeyedNumber';
import { MaskRows } from './MaskRows';
import { changedInput, freeId } from './stack';
import { StackRows } from './StackRows';
import type { Picking } from './StackView';
import type { Edit } from './useEdit';

/** What is said about an input, and about the whole stack. */
export function InputPanel({
  of,
  stack,
  edit,
  input,
  usual,
  operators,
  time,
  frame,
  picking,
  onPick,
  onChoose,
}: {
  of: StackDefinition;
  stack: Stack;
  edit: Edit;
  input: Input | undefined;
  usual: Usual;
  operators: OperatorLine[];
  /** Of the playhead, seconds. */
  time: number;
  frame: number;
  picking: Picking | undefined;
  onPick: (p: Picking | undefined) => void;
  onChoose: (id: string) => void;
}) {
  const [ofStack, setOfStack] = useState(false);
  const [output, setOutput] = useState<FilmOutput>(usual.output);
  if (!input || ofStack) {
    return (
      <Panel label="Stack settings" actions={<FilmActions of={of} stack={stack} output={output} />}>
        <Heads whole={true} onWhole={setOfStack} input={input} />
        <Films />
        <OutputRows output={output} onOutput={setOutput} />
        <h2 className="mt-5 mb-1 font-semibold">Stack</h2>
        <StackRows of={of} stack={stack} />
      </Panel>
    );
  }
  const put = (part: Partial<Input>, done = true) =>
    edit((s) => changedInput(s, input.id, part), done);
  const operator = operators.find((o) => o.operator === input.operator);
  return (
    <Panel
      label="Input settings"
      actions={
        <FilmActions of={of} stack={stack} output={output} onOpen={() => setOfStack(true)} />
      }
    >
      <Heads whole={false} onWhole={setOfStack} input={input} />
      <Row
        name="Name"
        hint={
          <span className="flex gap-2.5">
            <button
              className="min-h-6 text-t2 hover:text-t1"
              onClick={() => {
                const id = freeId(stack);
                edit((s) => {
                  const at = s.inputs.findIndex((i) => i.id === input.id);
                  const copy = { ...input, id, name: `${input.name} copy` };
                  return { ...s, inputs: [...s.inputs.slice(0, at), copy, ...s.inputs.slice(at)] };
                });
                onChoose(id);
              }}
            >
              Copy
            </button>
            <button
              className="min-h-6 text-t2 hover:text-t1"
              onClick={() =>
                edit((s) => ({ ...s, inputs: s.inputs.filter((i) => i.id !== input.id) }))
              }
            >
              Remove
            </button>
          </span>
        }
      >
        <Field
          key={input.id}
          owner={`input ${of.id}.${input.id}`}
          label="Name of the input"
          value={input.name}
          part={(name) => ({ name })}
          put={(part) => {
            put(part);
            return Promise.resolve(undefined);
          }}
          className="w-full"
        />
      </Row>
      <SourceRows input={input} put={put} />
      <Row name="Operator" note={operator?.formula}>
        <Choice
          label="Operator"
          value={input.operator}
          options={operators.map((o) => ({ value: o.operator, label: o.label }))}
          onChange={(o) => put({ operator: o })}
        />
      </Row>
      <Row name="Strength">
        <KeyedNumber
          key={input.id}
          label="Strength"
          value={input.strength}
          least={0}
          most={operator?.beyondOne ? 2 : 1}
          step={0.01}
          time={time}
          onChange={(strength, done) => put({ strength }, done)}
        />
      </Row>
      <MaskRows
        input={input}
        put={put}
        time={time}
        frame={frame}
        picking={picking}
        onPick={onPick}
      />
      <ReadRows input={input} stack={stack} put={put} />
      <h2 className="mt-5 mb-1 font-semibold">Corrections</h2>
      <CorrectionRows key={input.id} input={input} usual={usual} put={put} time={time} />
    </Panel>
  );
}

function Heads({
  whole,
  input,
  onWhole,
}: {
  whole: boolean;
  input: Input | undefined;
  onWhole: (v: boolean) => void;
}) {
  const head = (on: boolean, label: string, to: boolean) => (
    <button
      aria-pressed={on}
      className={`min-h-6 min-w-0 truncate ${on ? 'font-semibold' : 'text-t2 hover:text-t1'}`}
      onClick={() => onWhole(to)}
    >
      {label}
    </button>
  );
  return (
    <div className="mb-1 flex gap-4">
      {input && head(!whole, input.name, false)}
      {head(whole || !input, 'Film and stack', true)}
    </div>
  );
}

function SourceRows({ input, put }: { input: Input; put: (p: Partial<Input>) => void }) {
  const offered = useOffered();
  const sequences = useSequences();
  const { source } = input;
  const outside = useFootage(
    source.footage?.startsWith('sequence-') ? source.footage : undefined,
  ).data;
  const from = (part: Partial<Input['source']>) => put({ source: { ...source, ...part } });
  if (source.kind !== 'footage') {
    return (
      <>
        <Row name="Colour" hint="light">
          <Colour label="Colour" value={source.colour} onChange={(colour) => from({ colour })} />
        </Row>
        {source.kind === 'gradient' && (
          <>
            <Row name="Ends in" hint="light">
              <Colour
                label="Ends in"
                value={source.second}
                onChange={(second) => from({ second })}
              />
            </Row>
            <Row name="Angle" hint="degrees">
              <Field
                owner={`input ${input.id}`}
                label="Angle"
                value={String(source.angle)}
                part={(v) => Number(v)}
                put={(angle) => {
                  from({ angle });
                  return Promise.resolve(undefined);
                }}
                className="fig w-16"
              />
            </Row>
          </>
        )}
      </>
    );
  }
  const one = offered?.find((o) => o.footage === source.footage);
  const passes = one?.passes ?? outside?.passes.map((p) => p.name) ?? [];
  const known = passes.includes(source.pass) ? passes : [source.pass, ...passes];
  return (
    <>
      <Row
        name="From"
        hint={one ? `v${String(one.version).padStart(3, '0')}` : undefined}
        note={one || outside ? undefined : 'It is not there any more; choose another.'}
      >
        <Choice
          label="From"
          value={source.footage ?? ''}
          shown={one ? `${one.shot} · ${one.layer}` : (outside?.name ?? source.footage ?? '')}
          options={[
            ...(offered ?? []).map((o) => ({ value: o.footage, label: `${o.shot} · ${o.layer}` })),
            ...(sequences ?? []).map((s) => ({ value: `sequence-${s.id}`, label: s.name })),
          ]}
          onChange={(footage) => from({ footage })}
        />
      </Row>
      <Row name="Pass" hint={source.still === null ? undefined : `frame ${source.still} alone`}>
        <Choice
          label="Pass"
          value={source.pass}
          options={known.map((p) => ({ value: p, label: p }))}
          onChange={(pass) => from({ pass })}
        />
      </Row>
    </>
  );
}

function Colour({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number[];
  onChange: (v: number[]) => void;
}) {
  return (
    <Field
      owner={label}
      label={`${label}: red, green, blue, alpha`}
      value={value.join(' ')}
      part={(v) =>
        v
          .trim()
          .split(/[\s,]+/)
          .map(Number)
      }
      put={(v) => {
        if (v.length !== 4 || v.some((x) => !Number.isFinite(x))) {
          return Promise.resolve('Four numbers: red, green, blue and alpha.');
        }
        onChange(v);
        return Promise.resolve(undefined);
      }}
      className="fig w-full"
    />
  );
}

const LIGHTS = { file: 'as the file says', linear: 'linear', display: 'display' };
const ALPHAS = {
  file: 'as the file says',
  premultiplied: 'premultiplied',
  straight: 'straight',
  none: 'no alpha',
};

/** How its numbers are read: what the file tells, and what somebody said. */
function ReadRows({
  input,
  stack,
  put,
}: {
  input: Input;
  stack: Stack;
  put: (p: Partial<Input>) => void;
}) {
  const told = useReadAs(input.source.footage, input.source.pass);
  if (input.source.kind !== 'footage') {
    return null;
  }
  const { reading } = input;
  const read = (part: Partial<Input['reading']>) => put({ reading: { ...reading, ...part } });
  const light = reading.light === 'file' ? told?.light : reading.light;
  const alpha = reading.alpha === 'file' ? told?.alpha : reading.alpha;
  const rate = reading.rate ?? told?.rate ?? stack.rate;
  const asked =
    told &&
    ((reading.light === 'file' && !told.lightTold) ||
      (reading.alpha === 'file' && !told.alphaTold));
  const rateAsked = told && reading.rate === null && told.rate === null;
  return (
    <>
      <Row
        name="Read as"
        note={
          asked
            ? 'Its file does not tell; this is what such files usually are. Say what is right.'
            : undefined
        }
      >
        <span className="flex gap-3">
          <Choice
            label="Light"
            value={reading.light}
            shown={light ? LIGHTS[light] : '…'}
            options={(['file', 'linear', 'display'] as const).map((v) => ({
              value: v,
              label: LIGHTS[v],
            }))}
            onChange={(v) => read({ light: v })}
          />
          <Choice
            label="Alpha"
            value={reading.alpha}
            shown={alpha ? ALPHAS[alpha] : '…'}
            options={(['file', 'premultiplied', 'straight', 'none'] as const).map((v) => ({
              value: v,
              label: ALPHAS[v],
            }))}
            onChange={(v) => read({ alpha: v })}
          />
        </span>
      </Row>
      <Row
        name="Rate"
        hint={reading.rate !== null ? 'as you said' : told?.rateTold ? 'file' : undefined}
        note={
          rateAsked ? 'Its file does not tell; the stack’s is taken. Say what is right.' : undefined
        }
      >
        <Choice
          label="Rate"
          value={reading.rate === null ? 'file' : String(reading.rate)}
          shown={rateText(rate)}
          options={[
            { value: 'file', label: 'as the file says' },
            ...[12, 15, 23.976, 24, 25, 29.97, 30, 48, 50, 60].map((r) => ({
              value: String(r),
              label: rateText(r),
            })),
          ]}
          onChange={(v) => read({ rate: v === 'file' ? null : Number(v) })}
        />
      </Row>
    </>
  );
}
