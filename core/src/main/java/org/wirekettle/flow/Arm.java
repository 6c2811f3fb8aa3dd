package org.wirekettle.flow;

import java.util.List;

/**
 * One of the lists of steps inside a block.
 *
 * @param name unique in its block, such as {@code steps}, {@code arms/0} or {@code otherwise}
 * @param title in words, for outlines; empty for a block's only list
 */
public record Arm(String name, String title, List<Step> steps) {}
