export { answerPhrase, readOnePhrase, readPhrase, withMeant, type PhraseContext } from "./read.js";
