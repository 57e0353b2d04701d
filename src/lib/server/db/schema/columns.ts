/** Kinds of columns. */
import type { ColumnType, Generated } from 'kysely';

export type Id = Generated<number>;
/** Set when the row is made, never changed. */
export type Fixed<T> = ColumnType<T, T, never>;
