import type { NetworkAnswer } from "../../data/answers";
import { ofTerms } from "../../data/comparison";
import { term } from "../../lib/terms";
import { useEvidence } from "../../shell/evidence";

/** The words of a topic, those with the strongest ties first. */
export function wordsOf(answer: NetworkAnswer, topic: number): string[] {
  return answer.topics[topic]!.words.map((at) => answer.words[at]!.name);
}

/** Opens the passages with two words of a topic. */
export function useTopic(answer: NetworkAnswer) {
  const { show } = useEvidence();
  return (topic: number) => {
    const words = wordsOf(answer, topic);
    show({
      title: `Topic ${answer.topics[topic]!.name}`,
      colour: topic,
      comparison: ofTerms(
        words.map((word) => term(word)),
        answer.asked.scope ?? [],
      ),
      topic: { asked: answer.asked, words },
    });
  };
}
