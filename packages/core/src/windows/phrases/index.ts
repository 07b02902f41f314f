export {
  answerPhrase,
  meantBy,
  phraseLocale,
  readOnePhrase,
  readPhrase,
  withMeant,
  type PhraseContext,
} from "./read.js";
