import { useRef, useState } from "react";
import type { DataListing, Failure } from "../api/types";

/** An Import reads a long file into a new data set, as it is sent. */
export interface Import {
  file: File | undefined;
  running: boolean;
  /** The share that has been read. */
  done: number;
  error: string;
  begin: (file: File) => void;
  stop: () => void;
}

/** useImport returns an import that calls back with the data set's id. */
export function useImport(onDone: (id: string) => void): Import {
  const [state, setState] = useState({ file: undefined as File | undefined, running: false, done: 0, error: "" });
  const sending = useRef<XMLHttpRequest>(null);
  const begin = (file: File) => {
    // fetch does not tell how much of a body has been sent.
    const sender = new XMLHttpRequest();
    sending.current = sender;
    const fail = (error: string) => setState({ file, running: false, done: 0, error });
    sender.upload.onprogress = (event) =>
      setState({ file, running: true, done: event.loaded / event.total, error: "" });
    sender.onload = () => {
      if (sender.status === 201) {
        setState({ file, running: false, done: 1, error: "" });
        onDone((JSON.parse(sender.responseText) as DataListing).id);
        return;
      }
      const failure = JSON.parse(sender.responseText || "null") as Failure | null;
      fail(failure?.detail ?? sender.statusText);
    };
    sender.onerror = () => fail("Grund does not answer. Is it still running?");
    sender.onabort = () => setState({ file, running: false, done: 0, error: "" });
    sender.open("POST", `/api/data-sets/import?name=${encodeURIComponent(file.name.replace(/\.[a-z0-9]+$/i, ""))}`);
    sender.setRequestHeader("Content-Type", "application/octet-stream");
    setState({ file, running: true, done: 0, error: "" });
    sender.send(file);
  };
  return { ...state, begin, stop: () => sending.current?.abort() };
}
