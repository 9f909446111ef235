import type { Stack } from '../api/client';
import { useChangeStack, type StackDefinition } from '../api/assembly';
import { Field } from '../shell/Field';
import { Row } from '../shell/Row';
import { useSay } from '../shell/useSay';

/** What belongs to the whole stack. */
export function StackRows({ of, stack }: { of: StackDefinition; stack: Stack }) {
  const change = useChangeStack();
  const say = useSay();
  const owner = `stack ${of.id}`;
  const put = (part: Partial<Stack>) => say(change.mutateAsync({ id: of.id, part }), owner);
  return (
    <div>
      <Row name="Name">
        <Field
          owner={owner}
          label="Name of the stack"
          value={of.name}
          part={(v) => v}
          put={(name) => say(change.mutateAsync({ id: of.id, name }), owner)}
          className="w-full"
        />
      </Row>
      <Row name="Frames">
        <Field
          owner={owner}
          label="Frames of the stack"
          value={stack.frames}
          part={(frames) => ({ frames })}
          put={put}
          className="fig w-full"
        />
      </Row>
      <Row name="Size" hint="px">
        <Field
          owner={owner}
          label="Size of the stack"
          value={`${stack.width} × ${stack.height}`}
          part={(v) => {
            const [width, height] = v.split(/[^\d]+/).map(Number);
            return { width: width ?? 0, height: height ?? 0 };
          }}
          put={put}
          className="fig w-full"
        />
      </Row>
      <Row name="Rate" hint="frames a second">
        <Field
          owner={owner}
          label="Rate of the stack"
          value={String(stack.rate)}
          part={(v) => ({ rate: Number(v) })}
          put={put}
          className="fig w-16"
        />
      </Row>
    </div>
  );
}
