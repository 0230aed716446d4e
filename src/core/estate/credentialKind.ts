/** Whether a kind of credential is a user and a password of a service over HTTPS. */
export const isLogin = (kind: string): boolean => kind === 'redfish' || kind === 'restconf' || kind === 'controller';
