import say from './say.json'

/** What stands fixed on the screens, by screen: the one catalog, which the browser's tests read too. */
export const SAY = say
