export { answerPhrase, readPhrase, type PhraseContext } from "./read.js";
