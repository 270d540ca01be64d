import { TypedField } from './NumberField';
import { WordEditor } from './WordMenu';

const mostSigns = 40;

/** A name changed in place. @param word what stands in the sentence; the name itself where it is left out */
export function NameEditor({
  label,
  name,
  word = name,
  onChange,
}: {
  label: string;
  name: string;
  word?: string;
  onChange: (name: string) => void;
}) {
  return (
    <WordEditor label={label} word={word}>
      {(close) => (
        <TypedField
          wide
          label="Name"
          text={name}
          parse={(text) => {
            const value = text.trim();
            return value && value.length <= mostSigns ? { value } : { problem: `A name has 1 to ${mostSigns} signs.` };
          }}
          onChange={(next: string) => {
            onChange(next);
            close();
          }}
        />
      )}
    </WordEditor>
  );
}
