import { readOwnFields, type KeptOwnField } from '../../store/ownFields';
import { webStore } from '../access/store';

/** Own fields as a page begins with them. */
export const ownFieldsNow = (): KeptOwnField[] => readOwnFields(webStore().db);
