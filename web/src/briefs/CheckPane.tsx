import { useQuery } from '@tanstack/react-query';
import { Button, Input } from 'antd';
import { useDeferredValue, useState } from 'react';
import { answer, api, type Schema } from '../api/client';
import { counted, number } from '../pieces/format';
import { Failed } from '../pieces/States';

const placeNames: Record<Schema['TextPlace'], string> = {
  title: 'title',
  h1: 'H1',
  h2: 'heading',
  opening: 'opening',
  body: 'text',
  description: 'description',
  url: 'address',
  alt: 'image',
  anchor: 'link',
};

/** A draft next to what was asked for: what is there, what is missing, and where it would belong. */
export function CheckPane({ id, close }: { id: number; close: () => void }) {
  const [text, setText] = useState('');
  const [file, setFile] = useState<{ fileName: string; content: string }>();
  const asked = useDeferredValue(text);
  const checked = useQuery({
    queryKey: ['check', id, asked, file],
    enabled: asked.trim() !== '' || file !== undefined,
    placeholderData: (before) => before,
    queryFn: () =>
      answer(api.POST('/api/briefs/{id}/check', { params: { path: { id } }, body: file ?? { text: asked } })),
  });
  return (
    <>
      <h2>Check a text</h2>
      <p>Paste the draft, as Markdown or plain text, or choose a file. It is compared with the brief and not kept.</p>
      <Input.TextArea
        aria-label="The draft"
        rows={8}
        maxLength={400_000}
        value={text}
        onChange={(event) => {
          setFile(undefined);
          setText(event.target.value);
        }}
      />
      <p>
        <input
          type="file"
          aria-label="A file with the draft"
          accept=".docx,.html,.htm,.md,.txt"
          onChange={(event) => {
            const chosen = event.target.files?.[0];
            if (!chosen) return;
            void chosen.arrayBuffer().then((bytes) => {
              let binary = '';
              for (const byte of new Uint8Array(bytes)) binary += String.fromCharCode(byte);
              setText('');
              setFile({ fileName: chosen.name, content: btoa(binary) });
            });
          }}
        />
      </p>
      {checked.isError && <Failed error={checked.error} retry={() => void checked.refetch()} />}
      {checked.data && <Facts checked={checked.data} />}
      <div className="acts">
        <Button onClick={close}>Close</Button>
      </div>
    </>
  );
}

function Facts({ checked }: { checked: Schema['CheckedText'] }) {
  const { target } = checked;
  const missing = [checked.keywords, checked.terms, checked.questions]
    .flat()
    .filter((p) => p.places.length === 0).length;
  return (
    <>
      <p>
        {counted(checked.words, 'word')}
        {target && `; ${number(target.words)} are asked for`}. {number(missing)} of what is asked for{' '}
        {missing === 1 ? 'is' : 'are'} missing.
      </p>
      {checked.faults.map((fault) => (
        <p key={fault} className="clay">
          {fault}
        </p>
      ))}
      {(
        [
          ['Keywords', checked.keywords],
          ['Terms', checked.terms],
          ['Questions', checked.questions],
        ] as const
      )
        .filter(([, phrases]) => phrases.length > 0)
        .map(([heading, phrases]) => (
          <div key={heading}>
            <h3>{heading}</h3>
            <table className="facts">
              <tbody>
                {[...phrases]
                  .sort((a, b) => Number(a.places.length > 0) - Number(b.places.length > 0))
                  .map((p) => (
                    <tr key={p.phrase}>
                      <td>
                        {p.phrase}
                        {p.belongs && <div className="second">would go near: {p.belongs}</div>}
                      </td>
                      <td className={p.places.length === 0 ? 'clay' : undefined}>
                        {p.places.length === 0
                          ? 'missing'
                          : p.places
                              .filter((x) => x.place !== 'opening' || p.places.every((y) => y.place !== 'body'))
                              .map((x) => `${placeNames[x.place]}${x.count > 1 ? ` ${x.count}×` : ''}`)
                              .join(', ')}
                        {p.isOverused && <span className="clay">, more often than ranking pages</span>}
                      </td>
                    </tr>
                  ))}
              </tbody>
            </table>
          </div>
        ))}
    </>
  );
}
