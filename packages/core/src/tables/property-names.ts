/**
 * Names of columns, parameters, runs and files are data: any text may be one. JavaScript gives one name a meaning of
 * its own: assigning to `__proto__` changes what an object inherits instead of keeping a value under that name. That
 * accessor is not needed by anything here, and is taken away once for the whole process, so that this name is a name
 * like any other.
 */
delete (Object.prototype as { __proto__?: unknown }).__proto__;

/** The value under a name, where an object has one of its own: `constructor` is not a value of every object. */
export const own = <T>(values: Readonly<Record<string, T>>, name: string): T | undefined =>
  Object.hasOwn(values, name) ? values[name] : undefined;
