import type { FormatName, Shot } from '../api/client';
import { useFormats } from '../api/queries';
import { Choice } from '../shell/Choice';
import { Row } from '../shell/Row';
import { Field, type Put } from './Field';
import { PassChoice } from './PassChoice';
import { withDelivery, withPasses } from './settings';

type Other = FormatName | 'none';

/** Which passes a shot has and which files they go into. */
export function FileChoice({ shot, put }: { shot: Shot; put: Put }) {
  const known = useFormats().data;
  const { delivery, passes } = shot.settings;
  const exr = delivery.formats.includes('exr');
  const other: Other = delivery.formats.find((f) => f !== 'exr') ?? 'none';
  const formats = (linear: boolean, also: Other): FormatName[] => [
    ...(linear ? (['exr'] as const) : []),
    ...(also === 'none' ? [] : [also]),
  ];
  const layout = exr ? (delivery.perPass ? 'apart' : 'one') : 'none';
  return (
    <>
      <Row name="Passes">
        <PassChoice
          chosen={passes.wanted}
          onChange={(wanted) => void put(withPasses(shot, wanted))}
        />
      </Row>
      <Row name="EXR" hint="scene-linear">
        <Choice
          label="EXR files"
          value={layout}
          options={[
            { value: 'one', label: 'one for all passes' },
            { value: 'apart', label: 'one for each pass' },
            ...(other === 'none' ? [] : [{ value: 'none', label: 'no EXR' }]),
          ]}
          onChange={(v) =>
            void put(
              withDelivery(shot, {
                perPass: v === 'none' ? delivery.perPass : v === 'apart',
                formats: formats(v !== 'none', other),
              }),
            )
          }
        />
      </Row>
      {exr && (
        <Row name="" hint="lossless">
          <Choice
            label="EXR compression"
            value={delivery.compression}
            options={(known?.compressions ?? []).map((c) => ({ value: c, label: c }))}
            onChange={(compression) => void put(withDelivery(shot, { compression }))}
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
          onChange={(v) => void put(withDelivery(shot, { formats: formats(exr, v) }))}
        />
      </Row>
      {other === 'jpeg' && (
        <Row name="" hint="quality, 1-100">
          <Field
            shot={shot}
            label="JPEG quality"
            value={String(delivery.quality)}
            part={(v) => withDelivery(shot, { quality: Number(v) })}
            put={put}
            className="fig w-12"
          />
        </Row>
      )}
    </>
  );
}
