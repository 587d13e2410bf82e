/** The browser's Request, which knows where "/api/" is: for Node, whose own takes whole addresses alone. */
export function browserRequest(): typeof Request {
  return class extends Request {
    constructor(input: string | URL | Request, init?: RequestInit) {
      super(typeof input === "string" ? new URL(input, "http://library.test") : input, init);
    }
  };
}
