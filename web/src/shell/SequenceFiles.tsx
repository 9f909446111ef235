import { runArchive, type RunStrand } from '../api/client';
import { useTell } from './Notices';

/** Where the files are, and all of them as a zip. */
export function SequenceFiles({ run }: { run: RunStrand }) {
  const tell = useTell();
  return (
    <div className="mt-3.5">
      <h2 className="font-[640]">Files</h2>
      <p className="fig mt-1 leading-4 break-all text-t2" data-testid="folder">
        {run.folder}
      </p>
      <div className="mt-1 flex gap-4">
        <button
          className="underline decoration-t3 underline-offset-3"
          onClick={() =>
            void navigator.clipboard.writeText(run.folder).then(
              () => tell('The path is copied.'),
              () =>
                tell('The browser did not allow copying; mark the path instead.', { bad: true }),
            )
          }
        >
          Copy the path
        </button>
        {run.fresh > 0 && (
          <a
            className="underline decoration-t3 underline-offset-3"
            href={runArchive(run.id)}
            download
          >
            Download as a zip
          </a>
        )}
      </div>
    </div>
  );
}
