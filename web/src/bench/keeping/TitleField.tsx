import { useState } from "react";

interface TitleFieldProps {
  title: string;
  onTitle: (title: string) => void;
}

/** The sheet's title, changed where it stands. */
export function TitleField({ title, onTitle }: TitleFieldProps) {
  const [text, setText] = useState<string | null>(null);

  function take() {
    const typed = text?.trim();
    if (typed && typed !== title) onTitle(typed.slice(0, 200));
    setText(null);
  }

  return (
    <input
      className="title-field"
      aria-label="Title of the sheet"
      value={text ?? title}
      maxLength={200}
      onChange={(event) => setText(event.currentTarget.value)}
      onBlur={take}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") setText(null);
      }}
    />
  );
}
