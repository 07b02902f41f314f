import { Suspense, lazy } from "react";
import { AddEditor } from "./editors/AddEditor.js";
import { ColumnEditor, TypedForm, type ColumnEditorProps } from "./editors/ColumnEditor.js";
import { ColumnsEditor } from "./editors/ColumnsEditor.js";
import { OrderEditor } from "./editors/OrderEditor.js";
import { shownIn } from "./narrowing.js";
import type { Opened } from "./Sentence.js";
import { withParameters } from "./state.js";
import { codeOf } from "../service/connection.js";

const TreeEditor = lazy(() => codeOf(() => import("./editors/TreeEditor.js")));

export interface EditorsProps extends Omit<ColumnEditorProps, "column"> {
  readonly opened: Opened;
  readonly order: string;
  readonly onOpen: (opened: Opened) => void;
}

/** The editor of the clause that is opened. */
export function Editors(props: EditorsProps) {
  const { listing, opened, state, order, onOpen, onGo, ...rest } = props;
  switch (opened.kind) {
    case "add":
      return <AddEditor listing={listing} onOpen={onOpen} />;
    case "order":
      return (
        <OrderEditor
          listing={listing}
          order={order}
          onOrder={(next) => onGo(withParameters(state, { order: next }))}
        />
      );
    case "columns":
      return (
        <ColumnsEditor
          listing={listing}
          shown={shownIn(listing, state).map(({ name }) => name)}
          onShow={(columns) => onGo({ ...state, columns })}
        />
      );
    case "tree":
      return (
        <Suspense fallback={<div className="skeleton h-64 w-full" />}>
          <TreeEditor listing={listing} state={state} context={rest.context} onGo={onGo} />
        </Suspense>
      );
    case "search":
      return (
        <TypedForm
          {...rest}
          parameters={listing.parameters.filter(({ name }) => name === opened.parameter)}
          state={state}
          onGo={onGo}
        />
      );
    case "column":
      return (
        <ColumnEditor
          {...rest}
          listing={listing}
          column={opened.column}
          state={state}
          onGo={onGo}
        />
      );
  }
}
