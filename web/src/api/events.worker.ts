import { SharedStream } from './stream';

const stream = new SharedStream();
addEventListener('connect', (e) => stream.join((e as MessageEvent).ports[0]!));
