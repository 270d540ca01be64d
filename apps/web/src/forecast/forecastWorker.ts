import { createAnswerer } from './answerOrder';
import { outlookOrderSchema } from './messages';

const answer = createAnswerer();

self.onmessage = (event: MessageEvent<unknown>) => {
  self.postMessage(answer(outlookOrderSchema.parse(event.data)));
};
