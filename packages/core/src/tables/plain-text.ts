/** Signs that steer a terminal or turn the direction of writing, line ends among them. */
const steering = /[\u0000-\u001f\u007f-\u009f\u2028\u2029\u202a-\u202e\u2066-\u2069]/g;

/**
 * A text in which every control character is written out, as `\u001b`: what comes from files and scripts may be shown
 * on a terminal without steering it. Within JSON texts the result means the same.
 *
 * @example plainText("a\u001b[31m") // "a\\u001b[31m"
 */
export const plainText = (text: string): string =>
  text.replace(steering, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, "0")}`);
