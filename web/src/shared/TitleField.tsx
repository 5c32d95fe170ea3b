import { leavingKeys } from "./leavingKeys";

interface TitleFieldProps {
  /** What has the title. */
  of: string;
  title: string;
  onTitle: (title: string) => void;
}

/** A title, changed where it stands. */
export function TitleField({ of, title, onTitle }: TitleFieldProps) {
  return (
    <input
      key={title}
      className="title-field"
      aria-label={`Title of the ${of}`}
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
