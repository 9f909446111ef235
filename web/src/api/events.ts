import { useEffect, useState } from 'react';
import type { Health, LedgerLine, PreviewJob, Run } from './client';
import {
  healthQuery,
  ledgerQuery,
  progressQuery,
  putPreview,
  queryClient,
  runsQuery,
  type FrameProgress,
} from './queries';

function putRun(run: Run) {
  queryClient.setQueryData(runsQuery(run.productionId).queryKey, (all) => {
    if (!all) {
      return all;
    }
    return all.some((r) => r.id === run.id)
      ? all.map((r) => (r.id === run.id ? run : r))
      : [run, ...all];
  });
  if (run.state !== 'RUNNING') {
    queryClient.setQueryData(progressQuery.queryKey, (p) => (p?.runId === run.id ? null : p));
    void queryClient.invalidateQueries({ queryKey: ['ledger', run.id] });
  }
}

function putLine(runId: number, line: LedgerLine) {
  queryClient.setQueryData(ledgerQuery(runId).queryKey, (all) =>
    all?.map((l) => (l.frame === line.frame ? line : l)),
  );
}

/** After so long a stream that the browser has given up is opened again. */
const REOPEN_MS = 1000;

function listen(source: EventSource) {
  const on = <T>(type: string, heard: (body: T) => void) =>
    source.addEventListener(type, (e) => heard(JSON.parse((e as MessageEvent<string>).data) as T));
  // What happened before the connection stood was heard by nobody.
  on('connected', () => void queryClient.invalidateQueries());
  on<Health>('health', (h) => queryClient.setQueryData(healthQuery.queryKey, h));
  on<Run>('run', putRun);
  on<{ runId: number; line: LedgerLine }>('frame', (f) => putLine(f.runId, f.line));
  on<FrameProgress>('progress', (p) => queryClient.setQueryData(progressQuery.queryKey, p));
  on<PreviewJob>('preview', putPreview);
  on('revision', () => void queryClient.invalidateQueries({ queryKey: ['revisions'] }));
  on('shot', () => void queryClient.invalidateQueries({ queryKey: ['shots'] }));
  on('production', () => void queryClient.invalidateQueries({ queryKey: ['productions'] }));
  on('change', () => void queryClient.invalidateQueries({ queryKey: ['steps'] }));
}

/** Listens to the server for as long as it is mounted; returns whether it is connected. */
export function useServerEvents(): boolean {
  const [connected, setConnected] = useState(true);
  useEffect(() => {
    let source: EventSource;
    let wait: ReturnType<typeof setTimeout>;
    const open = () => {
      source = new EventSource('/api/events');
      listen(source);
      source.onopen = () => setConnected(true);
      source.onerror = () => {
        setConnected(false);
        // The browser tries again by itself unless the answer was none of a stream.
        if (source.readyState === EventSource.CLOSED) {
          wait = setTimeout(open, REOPEN_MS);
        }
      };
    };
    open();
    return () => {
      clearTimeout(wait);
      source.close();
    };
  }, []);
  return connected;
}
