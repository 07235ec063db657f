import { answer, api } from './client';

/** A file as the body of a request, as it is. */
export const asItIs = (body: Blob) => ({
  body: body as unknown as string,
  bodySerializer: (raw: string) => raw,
  headers: { 'Content-Type': 'application/octet-stream' },
});

/** Sends a file to the server, which looks at it and keeps it until it is imported. */
export const upload = (body: Blob, fileName: string) =>
  answer(
    api.POST('/api/uploads', {
      params: { query: { fileName } },
      ...asItIs(body),
    }),
  );
