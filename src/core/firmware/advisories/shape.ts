/** A document that is not as its standard says. */
export class DocumentError extends Error {
  override name = 'DocumentError';
  constructor(
    /** where in the document: `document.tracking.id` */
    readonly path: string,
    message: string,
  ) {
    super(message);
  }
}

const longestText = 20_000;
const mostItems = 20_000;

/** A JSON value, with the way to it: what is asked of it is there, or it is told where it is missing. */
export class Shape {
  constructor(
    readonly value: unknown,
    readonly path = '',
  ) {}

  at(name: string): Shape {
    const path = this.path ? `${this.path}.${name}` : name;
    const { value } = this;
    return new Shape(
      typeof value === 'object' && value !== null && Object.hasOwn(value, name)
        ? (value as Record<string, unknown>)[name]
        : undefined,
      path,
    );
  }

  get isThere(): boolean {
    return this.value !== undefined && this.value !== null;
  }

  /** @throws DocumentError where it is not there, or no text */
  text(): string {
    if (typeof this.value !== 'string' || this.value.trim() === '') throw this.#wrong('a text is expected');
    if (this.value.length > longestText) throw this.#wrong(`is longer than ${longestText} letters`);
    return this.value.trim();
  }

  /** Empty where it is not there. */
  textOr(otherwise = ''): string {
    return this.isThere && this.value !== '' ? this.text() : otherwise;
  }

  number(): number | null {
    return typeof this.value === 'number' && Number.isFinite(this.value) ? this.value : null;
  }

  /** None where it is not there. @throws DocumentError where it is no list */
  items(): Shape[] {
    if (!this.isThere) return [];
    if (!Array.isArray(this.value)) throw this.#wrong('a list is expected');
    if (this.value.length > mostItems) throw this.#wrong(`has more than ${mostItems} entries`);
    return this.value.map((one, at) => new Shape(one, `${this.path}[${at}]`));
  }

  /** The day of a moment as RFC 3339 writes it. */
  day(): string {
    const text = this.text();
    if (!/^\d{4}-\d\d-\d\d([T ]|$)/.test(text) || Number.isNaN(Date.parse(text))) throw this.#wrong('is no moment');
    return text.slice(0, 10);
  }

  #wrong(message: string): DocumentError {
    return new DocumentError(this.path, this.isThere ? message : 'is missing');
  }
}
