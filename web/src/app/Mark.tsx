export const Mark = () => (
  <svg width="30" height="20" aria-hidden>
    <path
      d="M1 15 H8 C13 15 11 4 16 4 S19 15 24 15 H29"
      fill="none"
      stroke="var(--copper)"
      strokeWidth="3"
      strokeLinecap="round"
    />
  </svg>
);
