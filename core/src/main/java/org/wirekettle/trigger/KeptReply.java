package org.wirekettle.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.nio.charset.StandardCharsets;
import org.jspecify.annotations.Nullable;
import org.wirekettle.flow.Reply;

/**
 * A reply that is kept until it is sent. Plain data; stored as it is.
 *
 * @param json null for an operation's answer
 * @param xml never null
 * @param fault the name of the declared fault that it is; null for none
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record KeptReply(
        @Nullable String json, String xml, @Nullable String fault) {
    public static KeptReply of(Reply reply) {
        return reply.message() != null
                ? new KeptReply(null, reply.message().body(), reply.message().fault())
                : new KeptReply(text(ReplyText.json(reply)), text(ReplyText.xml(reply)), null);
    }

    private static String text(byte[] bytes) {
        return new String(bytes, StandardCharsets.UTF_8);
    }
}
