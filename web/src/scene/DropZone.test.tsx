// @vitest-environment jsdom
import { fireEvent, screen, waitFor } from '@testing-library/react';
import { act, useState } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { closePage, FakeServer, openPage, REVISION, show } from '../test/page';
import { DropZone } from './DropZone';
import { useImportScene } from './useImportScene';

/** An upload whose course the test decides. */
class Upload {
  static last: Upload;
  upload: { onprogress?: (e: { loaded: number; total: number }) => void } = {};
  onload?: () => void;
  onerror?: () => void;
  onabort?: () => void;
  status = 0;
  responseText = '';
  readonly headers = new Map<string, string>();
  sent?: FormData;
  target = '';

  constructor() {
    Upload.last = this;
  }

  open(method: string, path: string) {
    this.target = `${method} ${path}`;
  }

  setRequestHeader(name: string, value: string) {
    this.headers.set(name, value);
  }

  send(form: FormData) {
    this.sent = form;
  }

  abort() {
    this.onabort!();
  }

  answer(status: number, body: unknown) {
    this.status = status;
    this.responseText = JSON.stringify(body);
    this.onload!();
  }
}

function Station() {
  const [scene, setScene] = useState('');
  const [arrived, setArrived] = useState('');
  const take = useImportScene(
    (r) => setScene(r.scene),
    (r) => setArrived(r.scene),
  );
  return (
    <DropZone take={take} empty={scene === ''}>
      <p data-testid="scene">{scene}</p>
      <p data-testid="arrived">{arrived}</p>
    </DropZone>
  );
}

const drop = (name: string) =>
  fireEvent.drop(screen.getByTestId('drop'), {
    dataTransfer: { files: [new File(['glTF'], name)] },
  });

describe('a scene that is dropped', () => {
  beforeEach(() => {
    openPage();
    new FakeServer();
    vi.stubGlobal('XMLHttpRequest', Upload);
  });
  afterEach(closePage);

  it('is sent, read, imported, and what no longer fits is told', async () => {
    show(<Station />);
    expect(screen.getByText('Drop a scene here')).toBeTruthy();
    drop('pass.glb');
    expect(Upload.last.target).toBe('POST /api/revisions?production=1&hold=true');
    expect(Upload.last.headers.get('X-Window')).toMatch(/^[0-9a-f]{32}$/);
    expect((Upload.last.sent!.get('file') as File).name).toBe('pass.glb');
    const bar = () => screen.getByRole<HTMLProgressElement>('progressbar');
    act(() => Upload.last.upload.onprogress!({ loaded: 1, total: 4 }));
    expect(screen.getByText('Sending pass.glb')).toBeTruthy();
    expect(bar().value).toBe(0.25);
    act(() => Upload.last.upload.onprogress!({ loaded: 4, total: 4 }));
    expect(screen.getByText('Reading pass.glb …')).toBeTruthy();
    // While it is read nobody knows how long it takes.
    expect(bar().hasAttribute('value')).toBe(false);
    const unfit = ['Shot pass-old: camera "old" is gone.'];
    act(() => Upload.last.answer(200, { revision: REVISION, unfit, waiting: false }));
    await screen.findByText('pass is imported as r2.');
    expect(screen.getByText(unfit[0]!)).toBeTruthy();
    expect(screen.getByTestId('scene').textContent).toBe('pass');
    expect(screen.queryByRole('progressbar')).toBeNull();
  });

  it('waits to be looked at if it is a newer revision', async () => {
    show(<Station />);
    drop('pass.glb');
    act(() => Upload.last.answer(200, { revision: REVISION, unfit: [], waiting: true }));
    await waitFor(() => expect(screen.getByTestId('arrived').textContent).toBe('pass'));
    expect(screen.getByTestId('scene').textContent).toBe('');
    expect(screen.queryByText(/is imported/)).toBeNull();
  });

  it('is refused with a sentence that stays until the next one', async () => {
    const { user } = show(<Station />);
    drop('notes.txt');
    act(() => Upload.last.answer(422, { detail: 'notes.txt is no glTF scene.' }));
    const told = await screen.findByRole('alert');
    expect(told.textContent).toContain('notes.txt is no glTF scene.');
    await user.click(screen.getByRole('button', { name: 'Close' }));
    expect(screen.queryByRole('alert')).toBeNull();
    drop('pass.glb');
    act(() => Upload.last.onerror!());
    expect((await screen.findByRole('alert')).textContent).toContain('is it running?');
    drop('pass.glb');
    expect(screen.queryByRole('alert')).toBeNull();
  });

  it('can be stopped on its way, which is no failure', async () => {
    const { user } = show(<Station />);
    drop('pass.glb');
    await user.click(screen.getByRole('button', { name: 'Stop' }));
    await waitFor(() => expect(screen.queryByRole('progressbar')).toBeNull());
    expect(screen.queryByRole('alert')).toBeNull();
    expect(screen.getByText('Drop a scene here')).toBeTruthy();
  });

  it('is asked for while one hangs over the page', () => {
    show(<Station />);
    fireEvent.dragOver(screen.getByTestId('drop'));
    expect(screen.getByText('Drop to import')).toBeTruthy();
    fireEvent.dragLeave(screen.getByTestId('drop'), { relatedTarget: document.body });
    expect(screen.queryByText('Drop to import')).toBeNull();
  });
});
