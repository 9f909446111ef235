import type { Shot } from '../api/client';
import { useFormats } from '../api/queries';
import { Choice } from '../shell/Choice';
import { Row } from '../shell/Row';
import { Field, type Put } from './Field';
import { PassChoice } from './PassChoice';

type Files = { compression?: string; perPass?: boolean; quality?: number };

/** Which passes a shot has and which files they go into. */
export function FileChoice({ shot, put }: { shot: Shot; put: Put }) {
  const known = useFormats().data;
  const settings = shot.settings as Record<string, unknown>;
  const files = (settings.files ?? {}) as Files;
  const withFiles = (part: Files) =>
    ({ settings: { ...settings, files: { ...files, ...part } } }) as Partial<Shot>;
  const exr = shot.formats.includes('exr');
  const other = shot.formats.find((f) => f !== 'exr') ?? 'none';
  const formats = (linear: boolean, beside: string) => [
    ...(linear ? ['exr'] : []),
    ...(beside === 'none' ? [] : [beside]),
  ];
  const layout = exr ? (files.perPass ? 'apart' : 'one') : 'none';
  return (
    <>
      <Row name="Passes">
        <PassChoice chosen={shot.passes} onChange={(passes) => void put({ passes })} />
      </Row>
      <Row name="EXR" hint="linear">
        <Choice
          label="EXR files"
          value={layout}
          options={[
            { value: 'one', label: 'one for all passes' },
            { value: 'apart', label: 'one for each pass' },
            ...(other === 'none' ? [] : [{ value: 'none', label: 'no EXR' }]),
          ]}
          onChange={(v) =>
            void put({
              ...(v === 'none' ? {} : withFiles({ perPass: v === 'apart' })),
              formats: formats(v !== 'none', other),
            })
          }
        />
      </Row>
      {exr && (
        <Row name="" hint="lossless">
          <Choice
            label="EXR compression"
            value={files.compression ?? 'zip'}
            options={(known?.compressions ?? ['zip']).map((c) => ({ value: c, label: c }))}
            onChange={(compression) => void put(withFiles({ compression }))}
          />
        </Row>
      )}
      <Row name={exr ? 'Beside it' : 'Files'} hint={exr ? 'the beauty' : 'one a pass'}>
        <Choice
          label="Other files"
          value={other}
          options={[
            ...(known?.formats ?? [])
              .filter((f) => f.name !== 'exr')
              .map((f) => ({ value: f.name, label: f.name, hint: f.holds })),
            ...(exr ? [{ value: 'none', label: 'nothing' }] : []),
          ]}
          onChange={(v) => void put({ formats: formats(exr, v) })}
        />
      </Row>
      {other === 'jpeg' && (
        <Row name="" hint="quality, 1-100">
          <Field
            shot={shot}
            label="JPEG quality"
            value={String(files.quality ?? 92)}
            part={(v) => withFiles({ quality: Number(v) })}
            put={put}
            className="fig w-12"
          />
        </Row>
      )}
    </>
  );
}
