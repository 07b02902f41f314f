import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { askAgain, useConnection } from "../service/connection.js";
import { Message } from "./Message.js";

/** Says on every page that the service is away, until it is back: then what failed is there by itself. */
export function AwayNotice() {
  const { isAway } = useConnection();
  const queries = useQueryClient();
  const [isAsking, setAsking] = useState(false);
  if (!isAway) return null;
  const ask = async () => {
    setAsking(true);
    await askAgain(queries);
    setAsking(false);
  };
  return (
    <div className="px-4 pt-4 sm:px-8">
      <Message kind="error" title="The service does not answer">
        <p>
          It may be starting, or the connection is lost. It is asked again every few seconds; what
          was typed here stays.
        </p>
        <button
          type="button"
          className="btn btn-sm mt-2"
          disabled={isAsking}
          onClick={() => void ask()}
        >
          Try again now
        </button>
      </Message>
    </div>
  );
}
