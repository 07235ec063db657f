import { answer, api } from './client';

/** Sends a file to the server, which looks at it and keeps it until it is imported. */
export const upload = (body: Blob, fileName: string) =>
  answer(
    api.POST('/api/uploads', {
      params: { query: { fileName } },
      body: body as unknown as string,
      bodySerializer: (raw) => raw,
      headers: { 'Content-Type': 'application/octet-stream' },
    }),
  );
