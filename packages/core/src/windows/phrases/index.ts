export { answerPhrase, readPhrase, withMeant, type PhraseContext } from "./read.js";
