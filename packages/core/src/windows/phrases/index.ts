export {
  answerPhrase,
  meaningOf,
  meantBy,
  phrasesIn,
  phraseLocale,
  readOnePhrase,
  readPhrase,
  withMeant,
  withMeantValues,
  type PhraseContext,
} from "./read.js";
