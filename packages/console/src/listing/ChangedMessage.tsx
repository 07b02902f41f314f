import { useMutation } from "@tanstack/react-query";
import { Failed, Message } from "../frame/Message.js";
import { countedRecords } from "../imports/counted.js";
import { service } from "../service/service.js";
import { useChanged, type Changed } from "./changes.js";

/** What was changed last, what it did to the list, and the way back. */
export function ChangedMessage(props: {
  readonly listing: string;
  readonly changed: Changed;
  readonly onClose: () => void;
}) {
  const { listing, changed, onClose } = props;
  const { words, notices, edit } = changed;
  const report = useChanged();
  const undo = useMutation({
    mutationFn: (number: number) => service.undoEdit(listing, number),
    onSuccess: (done) =>
      report({
        words: `Taken back: ${countedRecords(done.changed)} changed`,
        notices: [],
        edit: null,
      }),
  });
  return (
    <div className="mb-4">
      <Message kind="info" title={words}>
        {notices.map((notice) => (
          <p key={notice}>{notice}</p>
        ))}
        <p className="mt-1 flex gap-4">
          {edit === null ? null : (
            <button
              type="button"
              className="link"
              disabled={undo.isPending}
              onClick={() => undo.mutate(edit)}
            >
              Undo
            </button>
          )}
          <button type="button" className="link" onClick={onClose}>
            Close
          </button>
        </p>
      </Message>
      <Failed error={undo.error} title="It was not taken back" />
    </div>
  );
}
