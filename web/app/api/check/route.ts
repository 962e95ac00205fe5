import { bodyOf, checked, limited, type Answered } from '../../../server/checking';

export const runtime = 'nodejs';
export const dynamic = 'force-dynamic';

/** POST /api/check: a design as it is saved, answered by its verdict, the same as "reed check --json" prints. */
export async function POST(request: Request): Promise<Response> {
  const denied = await limited(request.headers.get('x-reed-address') ?? 'unknown');
  if (denied) return answer(denied);
  const text = await bodyOf(request);
  return answer(typeof text === 'string' ? await checked(text, process.env.REED_ROOT ?? process.cwd()) : text);
}

const answer = ({ status, body, retryAfter }: Answered): Response =>
  Response.json(body, { status, headers: { 'Cache-Control': 'no-store', ...(retryAfter === undefined ? {} : { 'Retry-After': String(retryAfter) }) } });
