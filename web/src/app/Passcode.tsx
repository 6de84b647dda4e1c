import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, ask } from "@/shared/api/client";
import { Labelled } from "@/shared/form/Labelled";

/** The shop's passcode, asked for on a device that has not typed it; what was entered waits. */
export function Passcode({ waiting, done }: { waiting: number; done: () => void }) {
  const [text, setText] = useState("");
  const enter = useMutation({
    mutationFn: () => ask(api.POST("/api/session", { body: { passcode: text } }), "stay"),
    onSuccess: done,
  });
  return (
    <main>
      <form
        className="mx-auto max-w-md space-y-4 p-6"
        onSubmit={(e) => {
          e.preventDefault();
          enter.mutate();
        }}
      >
        <h1 className="text-3xl">This shop asks for its passcode</h1>
        <p>Whoever set the shop up knows it. This device is asked once in a while.</p>
        {waiting > 0 && (
          <p role="status" className="border-l-4 border-line bg-sheet p-2">
            {waiting} {waiting === 1 ? "entry is" : "entries are"} kept on this device and sent
            afterwards. A bath under power goes on meanwhile.
          </p>
        )}
        <div>
          <Labelled
            label="Passcode"
            type="password"
            autoComplete="current-password"
            className="field min-h-12 !text-xl"
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        </div>
        {enter.error && (
          <p role="alert" className="border-l-4 border-stop bg-sheet p-2">
            {enter.error.message}
          </p>
        )}
        <button
          type="submit"
          className="btn btn-main min-h-14 w-full text-xl"
          disabled={!text || enter.isPending}
        >
          Come in
        </button>
      </form>
    </main>
  );
}
