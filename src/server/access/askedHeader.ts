/** Under this name pages are told which place was asked for; what a client sends under it counts for nothing. */
export const askedHeader = 'x-bolide-asked';
