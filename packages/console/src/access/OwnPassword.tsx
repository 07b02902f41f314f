import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { Failed } from "../frame/Message.js";
import { service } from "../service/service.js";

/** Changes one's own password; one signs in again with the new one. */
export function OwnPassword() {
  const queries = useQueryClient();
  const [current, setCurrent] = useState("");
  const [password, setPassword] = useState("");
  const change = useMutation({
    mutationFn: () => service.changePassword(current, password),
    onSuccess: () => queries.resetQueries(),
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    change.mutate();
  };
  return (
    <form onSubmit={submit} className="mt-6 flex max-w-3xl flex-wrap items-end gap-4">
      <label className="flex flex-col font-medium">
        Current password
        <input
          type="password"
          className="input font-normal"
          value={current}
          required
          autoComplete="current-password"
          onChange={(event) => setCurrent(event.target.value)}
        />
      </label>
      <label className="flex flex-col font-medium">
        New password (10 characters or more)
        <input
          type="password"
          className="input font-normal"
          value={password}
          required
          minLength={10}
          maxLength={200}
          autoComplete="new-password"
          onChange={(event) => setPassword(event.target.value)}
        />
      </label>
      <button type="submit" className="btn btn-primary" disabled={change.isPending}>
        Change the password
      </button>
      <Failed error={change.error} title="The password was not changed" />
    </form>
  );
}
