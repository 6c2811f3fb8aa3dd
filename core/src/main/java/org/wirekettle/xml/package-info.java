/** Reading XML from anywhere: decoding, hardened parsers with limits, and a small element tree that knows its lines. */
package org.wirekettle.xml;
