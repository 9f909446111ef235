import { useState } from 'react';
import type { Part, Remark } from '../api/client';
import { useAddRemark, useChangeRemark, useRemarks, useRemoveRemark } from '../api/review';
import { useRunStrands } from '../api/queries';
import { Button } from '../shell/Button';
import { useGo } from '../shell/address';
import { useChooseRun } from '../shell/current';
import { version } from '../shell/format';
import { useTell } from '../shell/Notices';
import { playhead, usePlayhead } from '../shell/playhead';
import { FILM, type Source } from './source';
import { useWho } from './who';

const FIELD = 'w-full border-b border-t3 bg-transparent py-1 focus:border-t1 focus:outline-none';

/** Notes on the frames of what is looked at, or on all strands. */
export function Notes({
  source,
  box,
  drawing,
  onDraw,
  onDone,
}: {
  source: Source;
  box: Part | undefined;
  drawing: boolean;
  onDraw: () => void;
  /** Forgets the box. */
  onDone: () => void;
}) {
  const frame = usePlayhead();
  const remarks = useRemarks();
  const add = useAddRemark();
  const tell = useTell();
  const [who, setWho] = useWho();
  const [text, setText] = useState('');
  const [everywhere, setEverywhere] = useState(false);
  const at = source.at(frame);
  const shown = remarks.filter(
    (r) => everywhere || source.key === FILM || r.footage === source.key,
  );
  const save = () => {
    const { x, y, width, height } = box ?? { x: 0, y: 0, width: 0, height: 0 };
    add.mutate(
      { footage: at.key, frame: at.frame, text, x, y, width, height, who },
      {
        onSuccess: () => {
          setText('');
          onDone();
        },
        onError: (e) => tell(e.message, { bad: true }),
      },
    );
  };
  return (
    <section aria-label="Notes">
      <form
        className="mb-3"
        onSubmit={(e) => {
          e.preventDefault();
          save();
        }}
      >
        <textarea
          aria-label="Note"
          placeholder={`A note on frame ${at.frame}`}
          rows={2}
          className={`${FIELD} resize-none`}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <input
          aria-label="Your name"
          placeholder="Your name"
          className={FIELD}
          value={who}
          onChange={(e) => setWho(e.target.value)}
        />
        <div className="mt-2 flex items-center gap-2">
          <Button type="submit" disabled={!text.trim() || add.isPending}>
            Add note
          </Button>
          <Button aria-pressed={drawing} onClick={onDraw}>
            {box ? 'Draw another box' : 'Draw a box'}
          </Button>
        </div>
      </form>
      <label className="mb-1 flex min-h-6 items-center gap-2 text-t2">
        <input
          type="checkbox"
          checked={everywhere}
          onChange={(e) => setEverywhere(e.target.checked)}
        />
        of all strands
      </label>
      {shown.length === 0 && <p className="text-t2">No notes yet.</p>}
      <ul>
        {shown.map((r) => (
          <Note key={r.id} of={r} here={r.footage === at.key} frame={at.frame} />
        ))}
      </ul>
    </section>
  );
}

function Note({ of, here, frame }: { of: Remark; here: boolean; frame: number }) {
  const change = useChangeRemark();
  const remove = useRemoveRemark();
  const add = useAddRemark();
  const tell = useTell();
  const choose = useChooseRun();
  const go = useGo();
  const run = useRunStrands().data?.find((r) => `strand-${r.id}` === of.footage);
  const open = () => {
    if (!here && run) {
      choose(run, { footage: undefined, against: undefined });
    } else if (!here) {
      go({ footage: of.footage });
    }
    playhead.to(of.frame);
  };
  const forget = () =>
    remove.mutate(of.id, {
      onSuccess: () =>
        tell('The note is removed.', { action: { label: 'Undo', run: () => add.mutate(of) } }),
    });
  const press = 'min-h-6 underline underline-offset-3 hover:text-t1';
  return (
    <li className="border-b border-line py-1.5">
      <button
        aria-current={here && of.frame === frame}
        className={`grid w-full grid-cols-[3rem_1fr] gap-2 text-left ${here && of.frame === frame ? '' : 'text-t2 hover:text-t1'}`}
        onClick={open}
      >
        <span className="fig">{of.frame}</span>
        <span className={of.done ? 'line-through' : ''}>{of.text}</span>
      </button>
      <div className="ml-14 flex flex-wrap gap-x-3 text-xs text-t2">
        {!here && (
          <span>{run ? `${run.shot} ${run.layer} ${version(run.number)}` : 'from elsewhere'}</span>
        )}
        <span>{of.who || 'nobody named'}</span>
        <button className={press} onClick={() => change.mutate({ ...of, done: !of.done })}>
          {of.done ? 'not done' : 'done'}
        </button>
        <button className={press} onClick={forget}>
          remove
        </button>
      </div>
    </li>
  );
}
