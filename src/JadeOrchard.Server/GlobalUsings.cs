global using Microsoft.AspNetCore.Http.HttpResults;
