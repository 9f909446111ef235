import type { Delivery, FormatName } from '../api/client';
import { useFormats } from '../api/queries';
import { Choice } from '../shell/Choice';
import { Row } from '../shell/Row';
import { Field, type Put } from '../shell/Field';

type Other = FormatName | 'none';

/** Which files frames are written into. */
export function FileChoice({
  owner,
  delivery,
  put,
}: {
  owner: string;
  delivery: Delivery;
  put: Put<Partial<Delivery>>;
}) {
  const known = useFormats().data;
  const exr = delivery.formats.includes('exr');
  const other: Other = delivery.formats.find((f) => f !== 'exr') ?? 'none';
  const formats = (linear: boolean, also: Other): FormatName[] => [
    ...(linear ? (['exr'] as const) : []),
    ...(also === 'none' ? [] : [also]),
  ];
  const layout = exr ? (delivery.perPass ? 'apart' : 'one') : 'none';
  return (
    <>
      <Row name="EXR">
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
              perPass: v === 'none' ? delivery.perPass : v === 'apart',
              formats: formats(v !== 'none', other),
            })
          }
        />
      </Row>
      {exr && (
        <Row name="" hint="scene-linear">
          <Choice
            label="EXR compression"
            value={delivery.compression}
            options={(known?.compressions ?? []).map((c) => ({ value: c, label: c }))}
            onChange={(compression) => void put({ compression })}
          />
        </Row>
      )}
      <Row name={exr ? 'Also write' : 'Files'} hint={exr ? 'the beauty' : 'one for each pass'}>
        <Choice
          label="Other files"
          value={other}
          options={[
            ...(known?.formats ?? [])
              .filter((f) => f.name !== 'exr')
              .map((f) => ({ value: f.name, label: f.name, hint: f.holds })),
            ...(exr ? [{ value: 'none' as const, label: 'nothing' }] : []),
          ]}
          onChange={(v) => void put({ formats: formats(exr, v) })}
        />
      </Row>
      {other === 'jpeg' && (
        <Row name="" hint="quality, 1-100">
          <Field
            owner={owner}
            label="JPEG quality"
            value={String(delivery.quality)}
            part={(v) => ({ quality: Number(v) })}
            put={put}
            className="fig w-12"
          />
        </Row>
      )}
    </>
  );
}
