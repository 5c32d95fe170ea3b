import { leavingKeys } from "../../shared/leavingKeys";

interface TitleFieldProps {
  title: string;
  onTitle: (title: string) => void;
}

/** The sheet's title, changed where it stands. */
export function TitleField({ title, onTitle }: TitleFieldProps) {
  return (
    <input
      key={title}
      className="title-field"
      aria-label="Title of the sheet"
      defaultValue={title}
      maxLength={200}
      onBlur={(event) => {
        const typed = event.currentTarget.value.trim();
        if (typed && typed !== title) onTitle(typed.slice(0, 200));
        else event.currentTarget.value = title;
      }}
      onKeyDown={leavingKeys}
    />
  );
}
