export const { describe, expect, it, test, beforeAll, afterAll, beforeEach, afterEach, jest } = globalThis;
