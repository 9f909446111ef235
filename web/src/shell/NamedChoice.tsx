import type { ReactNode } from 'react';
import type { Definition } from '../api/client';
import { Choice } from './Choice';
import { Row } from './Row';

/** A recipe or delivery, chosen by its name. */
export function NamedChoice<D>({
  name,
  value,
  all,
  text,
  hint,
  more,
  onChange,
}: {
  name: string;
  value: number;
  all: Definition<D>[];
  /** What one comes to, in a few words. */
  text: (d: D) => string;
  hint?: ReactNode;
  /** What is said behind that about the chosen one. */
  more?: string;
  onChange: (id: number) => void;
}) {
  const chosen = all.find((d) => d.id === value);
  return (
    <Row name={name} hint={hint} note={chosen && `${text(chosen.document)}${more ?? ''}`}>
      <Choice
        label={name}
        value={value}
        options={all.map((d) => ({ value: d.id, label: d.name, hint: text(d.document) }))}
        onChange={onChange}
      />
    </Row>
  );
}
