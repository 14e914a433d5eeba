/** The ferry's lantern, cut in paper: the image that the demo's overlay carries. */
export const FERRY_BADGE = `<svg xmlns="http://www.w3.org/2000/svg" width="240" height="240" viewBox="0 0 240 240">
<path d="M18 121 24 62 71 19 128 10 186 27 222 78 231 132 205 194 150 229 86 226 36 187Z" fill="#14110f"/>
<path d="M30 121 36 68 77 30 128 22 180 37 212 83 219 131 196 186 147 217 90 214 45 180Z" fill="#12212c"/>
<path d="M120 44 Q142 44 141 66 L133 66 Q134 52 120 52 Q106 52 107 66 L99 66 Q98 44 120 44Z" fill="#f2e9d4"/>
<path d="M84 66 156 65 163 82 77 83Z" fill="#e8572a"/>
<path d="M82 88 158 87 151 158 90 159Z" fill="#f0b53c"/>
<path d="M96 96 Q99 134 99 152 M120 95 V153 M144 96 Q141 130 141 152" stroke="#14110f" stroke-width="5" fill="none"/>
<path d="M120 106 Q136 128 120 148 Q104 128 120 106Z" fill="#f2e9d4"/>
<path d="M80 163 161 162 155 177 86 178Z" fill="#e8572a"/>
<path d="M44 190 Q66 178 84 190 T122 190 T160 190 T197 188 L186 201 Q166 192 150 203 Q132 192 114 203 Q96 192 78 203 Q64 196 56 200Z" fill="#6db5a9"/>
</svg>
`;
