import { string, type StringSchema } from 'yup';

/** Text without blanks at its ends; what is no text is left for the type's check to refuse. */
export function trimmed(): StringSchema {
  return string().transform((value: unknown) => (typeof value === 'string' ? value.trim() : value));
}

/** The key of something that may or may not be there. Keys are ASCII: nothing is called otherwise. */
export function keyText(): StringSchema {
  return string()
    .max(48)
    .matches(/^[ -~]*$/, { message: 'is the key of nothing', excludeEmptyString: true });
}
