package org.wirekettle.flow;

import org.jspecify.annotations.Nullable;
import org.wirekettle.contract.ContractOperation;
import org.wirekettle.input.Inputs;

/**
 * What a flow takes from whoever asks it, and what it answers.
 *
 * @param operation whose request it takes, and whose answer it gives; null for a flow with inputs of its own
 * @param inputs without any, where it takes an operation's request
 * @param reply null for nothing
 */
public record Taken(@Nullable ContractOperation operation, Inputs inputs, Reply.@Nullable Form reply) {}
