export {
  answerPhrase,
  meantBy,
  readOnePhrase,
  readPhrase,
  withMeant,
  type PhraseContext,
} from "./read.js";
