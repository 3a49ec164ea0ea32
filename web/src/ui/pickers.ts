/** What a field for a day, or a time of day, is given; the pickers themselves load where they are needed. */

export interface DayProps {
  label: string;
  /** "2026-11-10"; empty where no day is given. */
  value: string;
  error?: string | undefined;
  help?: string | undefined;
  /** The day as it stands, once it is a whole one; empty when it was taken out. */
  onChange: (day: string) => void;
  width?: number;
}

export interface TimeProps {
  label: string;
  /** "09:30:00"; empty where no time is given. */
  value: string;
  error?: string | undefined;
  help?: string | undefined;
  onChange: (time: string) => void;
}
