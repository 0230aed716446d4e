import { answerRequest } from '@/server/api/answer';

export {
  answerRequest as GET,
  answerRequest as POST,
  answerRequest as PUT,
  answerRequest as PATCH,
  answerRequest as DELETE,
};
export const dynamic = 'force-dynamic';
