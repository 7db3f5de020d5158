import { type InferType, object, string } from 'yup';
import { trimmed } from './text';

export const ROLES = ['admin', 'manager', 'rep'] as const;
export type Role = (typeof ROLES)[number];

export const signInSchema = object({
  email: trimmed().required('Enter your e-mail address').max(320),
  password: string().required('Enter your password').max(200),
}).exact();
export type SignIn = InferType<typeof signInSchema>;

/** Who is signed in. */
export interface Session {
  readonly key: string;
  readonly name: string;
  readonly role: Role;
}

/** Sign-ins of the demo world; empty anywhere else. */
export interface DemoSignIn {
  readonly email: string;
  readonly password: string;
  readonly who: string;
}
