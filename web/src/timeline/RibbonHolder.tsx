import { useEffect, useMemo, useRef, useState } from 'react';
import type { Shot } from '../api/client';
import { useRunFrames, useProduction, useShots } from '../api/queries';
import { useGo } from '../shell/address';
import { useCurrentRevision, useCurrentRun, useCurrentShot } from '../shell/current';
import { rateText, timecode } from '../shell/format';
import { useKeys } from '../shell/keys';
import { playhead, usePlayhead } from '../shell/playhead';
import { useRibbon, type RibbonKeys, type RibbonSpan } from '../shell/ribbon';
import { CanvasView, type Sheet } from './canvas';
import { currentName, frameAt, otherName, rulerStep } from './ruler';
import { drawSkyline, palette, type Column } from './skyline';

type Span = {
  id: number;
  name: string;
  first: number;
  last: number;
  current: boolean;
  /** Frames at its ends that are not in the cut. */
  handles?: [number, number];
};
type Model = {
  first: number;
  last: number;
  playhead: number;
  spans: Span[];
  columns: Column[];
  cached: [number, number][];
  marks: number[];
  keys: RibbonKeys | null;
  /** By how many frames the chosen keys are being dragged. */
  dragged: number;
};

const SPANS = 16;
const RULER = 13;

/** Height of a key, and how far from it the pointer takes hold of it, pixels. */
const KEY = 14;
const REACH = 6;

/** Reads the ends of a range without asking the server; 0 if there are none. */
function ends(shot: Shot): [number, number] {
  const n = [...shot.frames.matchAll(/(\d+)(?:\s*[x×]\s*\d+)?/g)].map((m) => Number(m[1]));
  return n.length ? [Math.min(...n), Math.max(...n)] : [0, 0];
}

function draw({ g, width: w, height: h }: Sheet, m: Model, seconds: number): boolean {
  const c = palette();
  const unit = w / (m.last - m.first + 1);
  g.textBaseline = 'middle';
  g.font = '500 10.5px "Martian Mono Variable", monospace';
  const rows = Math.min(1, m.spans.length);
  const place = (s: Span): [number, number] => [
    (s.first - m.first) * unit,
    Math.max(6, (s.last - s.first + 1) * unit - 2),
  ];
  const current = m.spans.find((s) => s.current);
  const named = current && currentName(...place(current), g.measureText(current.name).width, w);
  for (const s of [...m.spans].sort((a, b) => Number(a.current) - Number(b.current))) {
    const [x, width] = place(s);
    g.beginPath();
    g.roundRect(x + 0.5, 0.5, width - 1, SPANS - 1, 3);
    g.fillStyle = s.current ? c.up2 : c.bg;
    g.fill();
    g.strokeStyle = s.current ? c.t1 : c.line;
    g.lineWidth = 1;
    g.stroke();
    g.save();
    if (!s.current) {
      g.clip();
    }
    // What is not in the cut is hatched.
    const [head, tail] = s.handles ?? [0, 0];
    for (const [from, wide] of [
      [x, head * unit],
      [x + width - tail * unit, tail * unit],
    ] as const) {
      for (let k = 0; k < wide; k += 4) {
        g.beginPath();
        g.moveTo(from + k, SPANS - 1);
        g.lineTo(from + Math.min(wide, k + 4), 1);
        g.stroke();
      }
    }
    g.fillStyle = s.current ? c.t1 : c.t2;
    g.fillText(s.name, s.current ? named!.at : otherName(x, named), SPANS / 2 + 0.5);
    g.restore();
  }
  const top = rows * (SPANS + 5);
  // Keys have a row of their own.
  const room = m.keys ? KEY + 3 : 0;
  const box = { x: 0, y: top, width: w, height: h - top - RULER - room };
  drawSkyline(g, m.columns, box, m.first, m.last, c, seconds * 12);
  g.strokeStyle = c.line;
  g.beginPath();
  g.moveTo(0, h - RULER + 0.5);
  g.lineTo(w, h - RULER + 0.5);
  g.stroke();
  g.fillStyle = c.t1;
  for (const [from, to] of m.cached) {
    g.fillRect((from - m.first) * unit, h - RULER, (to - from) * unit, 2);
  }
  ruler(g, m, unit, w, h, c.t3);
  g.fillStyle = c.t1;
  for (const f of m.marks) {
    const x = (f - m.first + 0.5) * unit;
    g.beginPath();
    g.moveTo(x - 4, top - 4);
    g.lineTo(x + 4, top - 4);
    g.lineTo(x, top + 2);
    g.fill();
  }
  for (const f of m.keys?.frames ?? []) {
    const chosen = m.keys!.chosen.includes(f);
    const at = (f + (chosen ? m.dragged : 0) - m.first + 0.5) * unit;
    g.beginPath();
    g.roundRect(at - 3, h - RULER - KEY, 6, KEY - 1, 2);
    g.fillStyle = chosen ? c.mark : c.t1;
    g.fill();
    g.strokeStyle = c.bg;
    g.stroke();
  }
  const x = (m.playhead - m.first + 0.5) * unit;
  g.fillStyle = c.mark;
  g.fillRect(Math.max(0, Math.min(w - 2, x - 1)), top - 3, 2, h - top - RULER + 6);
  return m.columns.some((k) => k.state === 'RENDERING');
}

function ruler(
  g: CanvasRenderingContext2D,
  m: Model,
  unit: number,
  w: number,
  h: number,
  colour: string,
) {
  const step = rulerStep(m.last - m.first + 1, w);
  g.fillStyle = colour;
  g.font = '400 9px "Martian Mono Variable", monospace';
  for (
    let f = m.first;
    f <= m.last;
    f = f === m.first ? Math.floor(f / step + 1) * step : f + step
  ) {
    const text = String(f);
    const x = (f - m.first) * unit;
    const width = g.measureText(text).width;
    if (f === m.first || (x > 28 && x + width <= w)) {
      g.fillText(text, x, h - 5);
    }
  }
}

/** The timeline ribbon at the bottom of every station. */
export function RibbonHolder() {
  const frame = usePlayhead();
  const go = useGo();
  const shot = useCurrentShot();
  const shots = useShots().data;
  const revision = useCurrentRevision();
  const run = useCurrentRun();
  const ledger = useRunFrames(run?.id).data?.lines;
  const rate = useProduction().data?.frameRate ?? 24;

  const said = useRibbon();
  const [dragged, setDragged] = useState(0);
  const held = useRef<{ x: number; copy: boolean }>(undefined);
  const model = useMemo<Model>(() => {
    const { cached, marks, keys } = said;
    const more = { cached, marks, keys, dragged };
    if (said.spans) {
      const inside = (s: RibbonSpan) => frame >= s.first && frame <= s.last;
      const spans = said.spans.map((s) => ({ ...s, current: inside(s) }));
      const first = Math.min(...spans.map((s) => s.first));
      const last = Math.max(first + 1, ...spans.map((s) => s.last));
      return { first, last, playhead: frame, spans, columns: [], ...more };
    }
    const spans = (shots ?? []).map((s) => {
      const [first, last] = ends(s);
      const handles: [number, number] = [s.settings.headHandle, s.settings.tailHandle];
      return { id: s.id, name: s.name, first, last, handles, current: s.id === shot?.id };
    });
    const first = Math.min(revision?.first ?? 1, ...spans.map((s) => s.first));
    const last = Math.max(
      revision?.last ?? 1,
      ...spans.map((s) => s.last),
      ...(keys?.frames ?? []),
      first + 1,
    );
    return { first, last, playhead: frame, spans, columns: ledger ?? [], ...more };
  }, [shots, shot, revision, frame, ledger, said, dragged]);

  const canvas = useRef<HTMLCanvasElement>(null);
  const view = useRef<CanvasView<Model>>(null);
  useEffect(() => {
    view.current = new CanvasView(canvas.current!, draw, model);
    return () => view.current?.close();
    // The view lives as long as the canvas; later models reach it below.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
  useEffect(() => view.current?.update(model), [model]);

  const keys = said.keys;
  useKeys((e) => {
    if (!keys?.chosen.length) {
      return false;
    }
    if (e.key === 'Delete' || e.key === 'Backspace') {
      keys.onRemove();
      return true;
    }
    if (e.key === ',' || e.key === '.') {
      keys.onMove(e.key === ',' ? -1 : 1, false);
      return true;
    }
    return false;
  });
  const to = (f: number) => playhead.to(Math.max(model.first, Math.min(model.last, f)));
  useKeys((e) => {
    // Of now, not of what was drawn last: keys may come faster than pictures.
    const now = playhead.now();
    const moves: Record<string, number> = {
      ArrowLeft: now - 1,
      ArrowRight: now + 1,
      Home: model.first,
      End: model.last,
    };
    const next = moves[e.key];
    if (next === undefined) {
      return false;
    }
    to(next);
    return true;
  });

  const point = (e: React.PointerEvent<HTMLCanvasElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const f = frameAt(e.clientX - box.left, box.width, model.first, model.last);
    if (e.type === 'pointerdown') {
      e.currentTarget.setPointerCapture(e.pointerId);
      const unit = box.width / (model.last - model.first + 1);
      const over =
        e.clientY > box.bottom - RULER - KEY - 4
          ? keys?.frames.find(
              (k) => Math.abs((k - model.first + 0.5) * unit - (e.clientX - box.left)) < REACH,
            )
          : undefined;
      if (keys && over !== undefined) {
        const chosen = keys.chosen.includes(over);
        if (e.shiftKey) {
          keys.onChoose(chosen ? keys.chosen.filter((k) => k !== over) : [...keys.chosen, over]);
        } else if (!chosen) {
          keys.onChoose([over]);
        }
        held.current = { x: e.clientX, copy: e.ctrlKey || e.metaKey };
        to(over);
        return;
      }
      const spans = model.spans.filter((s) => f >= s.first && f <= s.last);
      if (e.clientY - box.top < SPANS && spans.length) {
        const at = spans.findIndex((s) => s.current);
        if (said.spans) {
          to(spans[0]!.first);
          return;
        }
        go({ shot: spans[(at + 1) % spans.length]!.name });
        return;
      }
    }
    if (held.current) {
      const unit = box.width / (model.last - model.first + 1);
      const by = Math.round((e.clientX - held.current.x) / unit);
      if (e.type === 'pointerup') {
        const { copy } = held.current;
        held.current = undefined;
        setDragged(0);
        if (by) {
          keys?.onMove(by, copy);
        }
      } else {
        setDragged(by);
      }
      return;
    }
    if (e.buttons === 1) {
      to(f);
    }
  };

  return (
    <footer className="border-t border-line bg-up px-5 py-2" aria-label="Timeline">
      <div className="mb-1.5 flex justify-between leading-4">
        <div className="fig">
          <span className="font-semibold text-mark" data-testid="playhead">
            {frame}
          </span>{' '}
          <span className="text-t2">
            {timecode(frame, rate)} · {rateText(rate)}
          </span>
        </div>
        {keys && (
          <div className="text-t2" data-testid="ribbon-keys">
            keys of {keys.name} at <span className="fig">{keys.frames.join(', ')}</span>
            {keys.chosen.length > 0 && (
              <>
                {' '}
                · chosen <span className="fig text-t1">{keys.chosen.join(', ')}</span>: drag to
                move, with Ctrl to copy, Delete to remove
              </>
            )}
          </div>
        )}
        <div className="fig text-t2">
          {model.first} – {model.last}
        </div>
      </div>
      <canvas
        ref={canvas}
        className="h-16 w-full touch-none"
        role="slider"
        tabIndex={0}
        aria-label="Playhead"
        aria-valuemin={model.first}
        aria-valuemax={model.last}
        aria-valuenow={frame}
        onPointerDown={point}
        onPointerMove={point}
        onPointerUp={point}
      />
    </footer>
  );
}
