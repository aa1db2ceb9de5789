import type { Note } from '@/records/notes';
import { NoteForm } from './NoteForm';
import { VoidEntry } from './VoidEntry';
import { When } from '@/ui/When';

/** What was noted of a cell or a pack, the newest first, and a line for more. */
export function Notes({ code, notes }: { code: string; notes: Note[] }) {
  return (
    <section className="sheet mb-3" aria-label="Notes">
      <h2>Notes</h2>
      {notes.map((note) => (
        <p
          key={note.entry}
          className={`d-flex flex-wrap align-items-baseline gap-2 mb-1${note.voidReason === null ? '' : ' soft'}`}
        >
          <span className="num soft">
            <When at={note.notedAt} as="d MMM yyyy HH:mm" />
          </span>
          {note.voidReason === null ? note.text : <s>{note.text}</s>}
          {note.voidReason === null ? <VoidEntry entry={note.entry} name="this note" /> : `void: ${note.voidReason}`}
        </p>
      ))}
      <NoteForm code={code} />
    </section>
  );
}
