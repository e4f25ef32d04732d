/** The sign of the product: a basket that winnows. */
export function Mark() {
  return (
    <svg width={24} height={24} viewBox="0 0 24 24" aria-hidden>
      <path d="M3 7c6 1 12 1 18 0l-3 9c-4 2-8 2-12 0z" fill="none" stroke="#F5DC92" strokeWidth="1.8" />
      <circle cx="9" cy="4" r="1.3" fill="#F5DC92" />
      <circle cx="13" cy="2.6" r="1.1" fill="#F5DC92" />
      <circle cx="16" cy="4.6" r="1" fill="#F5DC92" />
      <path d="M8 20h.01M12 21h.01M16 20h.01" stroke="#F5DC92" strokeWidth="2.4" strokeLinecap="round" />
    </svg>
  );
}
