/** The mark: a short streak that ends in a disc. */
export function Mark() {
  return (
    <svg width="30" height="16" viewBox="0 0 30 16" aria-hidden>
      <path d="M1 14 L22 4.4 L23.6 8.4 Z" fill="var(--ember)" opacity="0.35" />
      <path d="M10 10.6 L22 4.4 L23.6 8.4 Z" fill="var(--ember)" opacity="0.5" />
      <circle cx="23.5" cy="6.2" r="4.6" fill="var(--ember)" />
    </svg>
  );
}
