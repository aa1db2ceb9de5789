import { Field } from '@/ui/Field';

/** What the board of a pack does for it. */
export const BoardField = () => (
  <Field
    name="board"
    label="Its board"
    choices={[
      ['full', 'sees and balances'],
      ['protects', 'protects only'],
      ['none', 'none'],
    ]}
  />
);
