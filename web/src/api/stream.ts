import type { Events } from './client';

/** What is heard of the server: its events, or that it was lost. */
export type Heard =
  { [K in keyof Events]: { type: K; body: Events[K] } }[keyof Events] | { type: 'lost' };

const NAMES: { [K in keyof Events]: true } = {
  beat: true,
  change: true,
  connected: true,
  cut: true,
  frame: true,
  health: true,
  preview: true,
  progress: true,
  strand: true,
  ledger: true,
  check: true,
  checking: true,
  estimate: true,
  stale: true,
};

/** After so long a stream that the browser has given up is opened again. */
const REOPEN_MS = 1000;

/** Opens the server's stream of events, again and again until what is returned is called. */
export function openStream(hear: (h: Heard) => void): () => void {
  let source: EventSource;
  let wait: ReturnType<typeof setTimeout>;
  const open = () => {
    source = new EventSource('/api/events');
    Object.keys(NAMES).forEach((type) =>
      source.addEventListener(type, (e) => {
        const body: unknown = JSON.parse((e as MessageEvent<string>).data);
        hear({ type, body } as Heard);
      }),
    );
    source.onerror = () => {
      hear({ type: 'lost' });
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
}

export const LEAVE = 'leave';

type Port = Pick<MessagePort, 'postMessage' | 'onmessage'>;

/** Passes one stream on to all windows that have joined. */
export class SharedStream {
  private readonly ports = new Set<Port>();
  /** How it stands with the connection, which a window that joins must know. */
  private last: Heard | undefined;

  constructor() {
    openStream((h) => {
      if (h.type === 'connected' || h.type === 'lost') {
        this.last = h;
      }
      this.ports.forEach((p) => p.postMessage(h));
    });
  }

  join(port: Port) {
    this.ports.add(port);
    port.onmessage = (e) => {
      if (e.data === LEAVE) {
        this.ports.delete(port);
      }
    };
    if (this.last) {
      port.postMessage(this.last);
    }
  }
}
