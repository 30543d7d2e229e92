/**
 * What a letter says, as its reader sees it. Its HTML was made by the service from Markdown, with every value
 * escaped; it is shown in a frame of its own in which nothing runs.
 */
export function Written({ text, html }: { text: string; html: string }) {
  if (!html) {
    return (
      <pre className="overflow-x-auto rounded-sm bg-muted-wash p-3 font-mono text-dense whitespace-pre-wrap">
        {text}
      </pre>
    );
  }
  return (
    <>
      <iframe
        title="The letter as it is read"
        sandbox=""
        srcDoc={`<!doctype html><meta charset="utf-8"><style>body{font:15px/1.5 sans-serif;margin:16px;color:#22281F;background:#FFFFFF}blockquote{border-left:3px solid #74427A;margin-left:0;padding-left:12px}</style>${html}`}
        className="h-72 w-full rounded-sm border border-rule bg-raised"
      />
      <details className="mt-2">
        <summary className="cursor-pointer text-dense text-muted">As text</summary>
        <pre className="mt-2 overflow-x-auto rounded-sm bg-muted-wash p-3 font-mono text-dense whitespace-pre-wrap">
          {text}
        </pre>
      </details>
    </>
  );
}
