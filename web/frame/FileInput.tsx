import type { Ref } from 'react';

/** What opens a file: not seen itself, clicked through its ref; the same file can be chosen again. */
export function FileInput({ ref, title, accept, open, testId }: { ref: Ref<HTMLInputElement>; title?: string; accept: string; open: (file: File) => void; testId?: string }) {
  return (
    <input
      ref={ref}
      type="file"
      accept={accept}
      hidden
      aria-label={title}
      data-testid={testId}
      onChange={(e) => {
        const [chosen] = e.target.files ?? [];
        e.target.value = '';
        if (chosen) open(chosen);
      }}
    />
  );
}

/** Columns of text, as instruments save them */
export const COLUMNS = '.csv,.txt,.tsv,.dat';
