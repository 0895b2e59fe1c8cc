/** Kinds of line that the interface knows more of than their sentence, one file or folder each. */

import "./art";
import "./knockOut";
import "./letter";
import "./pieces";
import "./shape";
import "./warps";
