import { useEffect, useState } from 'react';
import type { Events, FrameLine, RunStrand } from './client';
import { putCut } from './cut';
import { withLine } from './frames';
import {
  checkQuery,
  healthQuery,
  outdate,
  runFramesQuery,
  progressQuery,
  putEstimate,
  putLedger,
  putPreview,
  putPushed,
  queryClient,
  runStrandsQuery,
} from './queries';
import { putChecking } from './review';
import { LEAVE, openStream, type Heard } from './stream';

function putStrand(run: RunStrand) {
  const frames = queryClient.getQueryData(runFramesQuery(run.id).queryKey);
  if (frames && frames.lines.length !== run.planned) {
    outdate('frames of', run.id);
  }
  putPushed(runStrandsQuery(run.productionId).queryKey, (all) => {
    if (!all) {
      return all;
    }
    return all.some((r) => r.id === run.id)
      ? all.map((r) => (r.id === run.id ? run : r))
      : [run, ...all];
  });
  if (run.state !== 'RUNNING' && run.state !== 'PAUSED') {
    queryClient.setQueryData(progressQuery.queryKey, (p) => (p?.strandId === run.id ? null : p));
    outdate('frames of', run.id);
    outdate('estimates');
    outdate('whatif');
    outdate('proofs');
    outdate('rendered');
    outdate('films');
  }
}

function putLine(strandId: number, line: FrameLine) {
  putPushed(runFramesQuery(strandId).queryKey, (all) => all && withLine(all, line));
}

const HANDLERS: { [K in keyof Events]: (body: Events[K]) => void } = {
  // What happened before the connection stood was heard by nobody.
  connected: () => outdate(),
  beat: () => undefined,
  health: (h) => queryClient.setQueryData(healthQuery.queryKey, h),
  strand: putStrand,
  ledger: (l) => {
    putLedger(l);
    outdate('proofs');
  },
  estimate: putEstimate,
  checking: putChecking,
  check: (c) => queryClient.setQueryData(checkQuery.queryKey, c),
  frame: (f) => putLine(f.strandId, f.line),
  progress: (p) => queryClient.setQueryData(progressQuery.queryKey, p),
  preview: putPreview,
  cut: putCut,
  stale: ({ list }) => {
    outdate(list.toLowerCase());
    if (list === 'STACKS') {
      // What was made of them may be stale.
      outdate('films');
    }
  },
  change: () => {
    outdate('steps');
    outdate('checks');
    outdate('ledger');
    outdate('estimates');
  },
};

function handle<K extends keyof Events>(type: K, body: Events[K]) {
  HANDLERS[type](body);
}

/** Hears the stream that all windows of this browser share; or one of its own if there is none. */
function join(hear: (h: Heard) => void): () => void {
  if (typeof SharedWorker === 'undefined') {
    return openStream(hear);
  }
  const { port } = new SharedWorker(new URL('./events.worker.ts', import.meta.url), {
    type: 'module',
  });
  port.onmessage = (e: MessageEvent<Heard>) => hear(e.data);
  return () => {
    port.postMessage(LEAVE);
    port.close();
  };
}

/** Listens to the server for as long as it is mounted; returns whether it is connected. */
export function useServerEvents(): boolean {
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    const hear = (h: Heard) => {
      setConnected(h.type !== 'lost');
      if (h.type !== 'lost') {
        handle(h.type, h.body);
      }
    };
    let leave = join(hear);
    const hide = () => leave();
    // A page that the browser had put away, and shows again.
    const show = (e: PageTransitionEvent) => {
      if (e.persisted) {
        leave = join(hear);
      }
    };
    window.addEventListener('pagehide', hide);
    window.addEventListener('pageshow', show);
    return () => {
      window.removeEventListener('pagehide', hide);
      window.removeEventListener('pageshow', show);
      leave();
    };
  }, []);
  return connected;
}
