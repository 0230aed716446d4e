export { POST } from '@/server/routes/credentialRestore';
